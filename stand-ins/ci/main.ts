/** A stand-in for a build system: runs the jobs of a pipeline file step by step, and reads the results each
 * job names.
 * Usage: node build/ci.mjs FILE, with what the file calls secrets in the environment; exit 0 when every step
 * went well, 1 when one did not. */
import { spawnSync } from 'node:child_process'
import { existsSync, readFileSync } from 'node:fs'
import { parse } from 'yaml'

type Job = { environment?: Record<string, string>; steps: { run: string }[]; results?: { junit?: string } }

const filled = (text: string) =>
  text.replace(/^\$(\w+)$/, (_, name: string) => {
    const value = process.env[name]
    if (value === undefined) throw new Error(`the secret ${name} is not set`)
    return value
  })

/** @returns the exit code of the first step that did not go well, or 0 */
function stepsOf({ environment = {}, steps }: Job): number {
  const env = {
    ...process.env,
    ...Object.fromEntries(Object.entries(environment).map(([name, value]) => [name, filled(value)])),
  }
  for (const { run } of steps) {
    console.error(`> ${run}`)
    const { status } = spawnSync('bash', ['-c', run], { env, stdio: ['ignore', 'inherit', 'inherit'] })
    if (status !== 0) return status ?? 1
  }
  return 0
}

function resultsOf(file: string): string {
  if (!existsSync(file)) return `${file} was not written`
  const xml = readFileSync(file, 'utf8')
  const count = (element: string) => xml.match(new RegExp(`<${element}[\\s/>]`, 'g'))?.length ?? 0
  return `${count('testcase')} tests, ${count('failure') + count('error')} did not pass`
}

const pipeline = parse(readFileSync(process.argv[2]!, 'utf8')) as Record<string, Job>
let worst = 0
for (const [name, job] of Object.entries(pipeline)) {
  const code = stepsOf(job)
  worst ||= code
  console.log(
    `${name}: ${code === 0 ? 'went well' : `ended with ${code}`}${job.results?.junit ? `; ${resultsOf(job.results.junit)}` : ''}`,
  )
}
process.exit(worst)
