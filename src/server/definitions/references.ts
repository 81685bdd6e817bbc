import type { Definition, FileProblem, Step, SuiteEntry } from '@/core/model'

type Sound = { file: string; document: Definition }

/** What files say of each other that is not so: a routine, case, suite or table that is not there. The files are kept.
 * @param kept what is still there from an earlier reading, because its file is broken now */
export function brokenReferences(sound: Sound[], kept: { kind: string; key: string }[], tables: Set<string>): FileProblem[] {
  const keys = new Set([...sound.map(({ document }) => document), ...kept].map(({ kind, key }) => `${kind}:${key}`))
  const problems: FileProblem[] = []
  for (const { file, document } of sound) {
    const report = (line: number, field: string, message: string) => problems.push({ file, line, column: 1, field, message })
    if (document.kind === 'suite') {
      for (const entry of allEntries(document.entries)) {
        if (entry.case && !keys.has(`case:${entry.case}`)) report(1, 'entries', `case “${entry.case}” is not there`)
        if (entry.suite && !keys.has(`suite:${entry.suite}`)) report(1, 'entries', `suite “${entry.suite}” is not there`)
      }
      continue
    }
    for (const step of allSteps(document.kind === 'case' ? [...document.steps, ...document.undo] : document.steps)) {
      if (step.verb === 'use' && !keys.has(`routine:${step.routine}`)) report(step.line ?? 1, 'use', `routine “${step.routine}” is not there`)
    }
    if (document.kind === 'case') {
      if (document.entry && !keys.has(`routine:${document.entry}`)) report(1, 'entry', `no routine brings about the entry state “${document.entry}”`)
      if (document.data && !tables.has(document.data)) report(1, 'data', `the table “${document.data}” is not there`)
    }
  }
  return problems
}

const allEntries = (entries: SuiteEntry[]): SuiteEntry[] => entries.flatMap((entry) => [entry, ...allEntries(entry.entries)])
const allSteps = (steps: Step[]): Step[] =>
  steps.flatMap((step) => [step, ...('steps' in step ? allSteps(step.steps) : []), ...(step.verb === 'if' ? allSteps(step.otherwise) : [])])
