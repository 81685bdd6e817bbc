/** ./oak import FILE: counts a result file here (--dry-run), or sends it to the server as a run. */
import { createReadStream, statSync } from 'node:fs'
import { basename } from 'node:path'
import { Readable } from 'node:stream'
import { encodingOf, ResultReader, ResultRefused, type ResultSummary } from '@/core/formats'
import { CliProblem, type Options } from './options'

const REFUSED = 2

/** @returns 0, or 2 when the file is refused: then nothing is printed on standard output and nothing was
 * taken in */
export async function importResults({
  rest,
  dryRun,
  json,
  build,
  server = 'http://127.0.0.1:4600',
  token,
}: Options): Promise<number> {
  const [file] = rest
  if (file === undefined || rest.length > 1)
    throw new CliProblem('import wants one file: ./oak import FILE [--build B] [--dry-run] [--json]')
  if (!statSync(file, { throwIfNoEntry: false })?.isFile()) return refuse(file, 1, 'there is no such file')
  if (!dryRun) return send(file, { server, token, json, build })
  try {
    const summary = await count(file)
    console.log(json ? JSON.stringify(summary) : words(summary))
    return 0
  } catch (error) {
    if (error instanceof ResultRefused) return refuse(file, error.line, error.message)
    throw error
  }
}

function refuse(file: string, line: number, what: string): number {
  console.error(`error: ${file}:${line}: ${what}`)
  return REFUSED
}

async function count(file: string): Promise<ResultSummary> {
  const reader = new ResultReader(() => {})
  let decoder: TextDecoder | undefined
  for await (const chunk of createReadStream(file, { highWaterMark: 1 << 20 }) as AsyncIterable<Buffer>) {
    decoder ??= new TextDecoder(encodingOf(chunk))
    reader.write(decoder.decode(chunk, { stream: true }))
  }
  reader.write(decoder?.decode() ?? '')
  return reader.end()
}

type Answer =
  { run: number; summary: ResultSummary; address: string } | { message: string; detail?: { line?: number } }

type Sending = { server: string; token: string | undefined; json: boolean; build: string | undefined }

/** @param build that the results are of; absent: nobody knows */
async function send(file: string, { server, token, json, build }: Sending): Promise<number> {
  if (!token)
    throw new CliProblem(
      'OAK_TOKEN is not set: make a CI token in Settings, or use --dry-run to count without a server',
    )
  const query = new URLSearchParams({ name: basename(file), ...(build !== undefined && { build }) })
  const address = new URL(`/api/results?${query}`, server)
  const response = await fetch(address, {
    method: 'POST',
    duplex: 'half',
    body: Readable.toWeb(createReadStream(file)) as ReadableStream,
    headers: { authorization: `Bearer ${token}`, 'content-type': 'application/octet-stream' },
  } as RequestInit).catch((error: Error) => {
    throw new CliProblem(
      `no answer from ${server}: ${(error.cause as Error | undefined)?.message ?? error.message}`,
    )
  })
  const answer = (await response.json()) as Answer
  if (!('run' in answer)) {
    if (answer.detail?.line !== undefined) return refuse(file, answer.detail.line, answer.message)
    throw new CliProblem(answer.message)
  }
  console.log(
    json
      ? JSON.stringify(answer.summary)
      : `${words(answer.summary)}\n${new URL(answer.address, server).href}`,
  )
  return 0
}

function words({ format, suites, cases, outcomes, problems }: ResultSummary): string {
  const counts = Object.entries(outcomes)
    .filter(([, n]) => n > 0)
    .map(([outcome, n]) => `${n} ${outcome}`)
  return [
    `${format === 'tap' ? 'TAP' : 'JUnit XML'}: ${suites} ${suites === 1 ? 'suite' : 'suites'}, ` +
      `${cases} ${cases === 1 ? 'case' : 'cases'}${counts.length > 0 ? `, ${counts.join(', ')}` : ''}`,
    ...problems.map(({ line, what }) => `  line ${line}: ${what}`),
  ].join('\n')
}
