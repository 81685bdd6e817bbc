'use client'
import { useRouter } from '../base/opening'
import { useState } from 'react'
import { toast } from 'sonner'
import { plural } from '@/core/view-models'
import { ApiProblem } from '../api'
import { Button, buttonLook } from '../base/Button'
import { TextField } from '../base/fields'
import { Problem } from '../base/Parts'
import { useFrame } from '../frame/tools'
import { sendResults } from './result-file'

type Report = {
  fresh: string[]
  changed: { key: string; file: string; changes: string[] }[]
  same: number
  problems: { file: string; line: number; message: string }[]
  applied: boolean
}
type Given = { name: string; send(apply: boolean): Promise<Report> }

async function post(apply: boolean, init: RequestInit): Promise<Report> {
  const response = await fetch(`/api/workspace/import${apply ? '?apply=yes' : ''}`, {
    method: 'POST',
    ...init,
  })
  const answer = (await response.json()) as Report & { message?: string; code?: string }
  if (!response.ok)
    throw new ApiProblem(response.status, answer.code ?? '', answer.message ?? 'It was not taken in.')
  return answer
}

const ofZip = (file: File): Given => ({
  name: file.name,
  send: (apply) => post(apply, { body: file, headers: { 'content-type': 'application/zip' } }),
})
async function ofFolder(list: FileList): Promise<Given> {
  const ours = [...list].filter(({ name }) =>
    /\.(case|routine|suite|rotation)\.ya?ml$|\.(csv|json)$/.test(name),
  )
  const files = await Promise.all(
    ours.map(async (file) => ({ file: file.webkitRelativePath || file.name, source: await file.text() })),
  )
  return {
    name: plural(files.length, 'file'),
    send: (apply) =>
      post(apply, { body: JSON.stringify({ files }), headers: { 'content-type': 'application/json' } }),
  }
}

/** The whole workspace out and in, as files; and result files of other tools. */
export function Exchange() {
  const router = useRouter()
  const { may } = useFrame()
  const [given, setGiven] = useState<Given>()
  const [report, setReport] = useState<Report>()
  const [problem, setProblem] = useState<string>()
  const look = async (next: Given | undefined) => {
    setProblem(undefined)
    setReport(undefined)
    setGiven(next)
    if (!next) return
    await next.send(false).then(setReport, (error: ApiProblem) => setProblem(error.message))
  }
  const lookAt = async (files: FileList | null) => look(files ? await ofFolder(files) : undefined)
  const take = async () => {
    await given!.send(true).then(
      (done) => {
        toast(`${plural(done.fresh.length, 'new file')}, ${done.changed.length} changed`)
        void look(undefined)
      },
      (error: ApiProblem) => setProblem(error.message),
    )
  }
  const [build, setBuild] = useState('')
  const results = async (file: File | undefined) => {
    if (!file) return
    setProblem(undefined)
    await sendResults(file, build.trim()).then(
      ({ address }) => router.push(address),
      (error: Error) => setProblem(error.message),
    )
  }
  const pick =
    `${buttonLook('plain')} cursor-pointer focus-within:outline focus-within:outline-2 ` +
    'focus-within:outline-act'
  return (
    <div className="flex flex-col gap-4">
      <section>
        <h3 className="label mb-1">Out</h3>
        <p className="mb-2 text-sm text-soft">Every case, routine, suite and table as its file, in a zip.</p>
        <a className={buttonLook('plain')} href="/api/workspace/export" download>
          Export the workspace
        </a>
      </section>
      {may('tester') && (
        <section>
          <h3 className="label mb-1">In</h3>
          <p className="mb-2 text-sm text-soft">
            You see what would change before anything does. A result file becomes a run at once.
          </p>
          <div className="flex flex-wrap gap-2">
            <label className={pick}>
              From a zip
              <input
                type="file"
                accept=".zip"
                className="sr-only"
                onChange={({ target }) => void look(target.files?.[0] && ofZip(target.files[0]))}
              />
            </label>
            <label className={pick}>
              From a folder
              <input
                type="file"
                className="sr-only"
                {...{ webkitdirectory: '' }}
                multiple
                onChange={({ target }) => void lookAt(target.files)}
              />
            </label>
            <label className={pick}>
              A result file (JUnit XML, TAP)
              <input
                type="file"
                accept=".xml,.tap,.txt"
                className="sr-only"
                onChange={({ target }) => {
                  void results(target.files?.[0])
                  target.value = '' // the same file may be chosen again
                }}
              />
            </label>
            <TextField
              aria-label="Build that the result file is of"
              placeholder="of build, e.g. 2026.11.4"
              width="w-52"
              maxLength={100}
              value={build}
              onChange={({ target }) => setBuild(target.value)}
            />
          </div>
        </section>
      )}
      {problem && <Problem>{problem}</Problem>}
      {report && given && (
        <section aria-label="What would change" className="rounded-oak border border-line p-3 text-sm">
          <p className="font-semibold">
            {given.name}: {plural(report.fresh.length, 'new definition')}, {report.changed.length} changed,{' '}
            {report.same} the same
            {report.problems.length > 0 && `, ${plural(report.problems.length, 'problem')}`}
          </p>
          <ul className="my-2 max-h-48 overflow-auto">
            {report.problems.map(({ file, line, message }, i) => (
              <li key={i} className="text-failed">
                <span className="font-mono text-xs">
                  {file}:{line}
                </span>{' '}
                {message}
              </li>
            ))}
            {report.changed.map(({ key, changes }) => (
              <li key={key}>
                {key}: <span className="text-soft">{changes.join('; ') || 'only comments or layout'}</span>
              </li>
            ))}
            {report.fresh.map((key) => (
              <li key={key}>
                {key}: <span className="text-soft">new</span>
              </li>
            ))}
          </ul>
          <Button
            look="main"
            disabled={report.fresh.length + report.changed.length === 0}
            onClick={() => void take()}
          >
            Take {report.problems.length > 0 ? 'the sound ones' : 'them'} in
          </Button>
        </section>
      )}
    </div>
  )
}
