import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { CliProblem, type Options } from './options'
import { startStack } from './stack'

/** ./oak start: everything, until Ctrl-C. */
export async function start(given: Options): Promise<number> {
  const begun = performance.now()
  const lock = join(given.home, 'running')
  const other = existsSync(lock) ? Number(readFileSync(lock, 'utf8')) : 0
  if (other && isAlive(other))
    throw new CliProblem(
      `it runs already with its data in ${given.home} (process ${other}). Stop that one, or set ` +
        'OAK_HOME to another folder',
    )
  const asked = stopAsked()
  const stack = await startStack(given, (text) => console.log(`  ${text}`))
  writeFileSync(lock, String(process.pid))
  console.log(
    `\nOak Rotation is ready, ${((performance.now() - begun) / 1000).toFixed(1)} s after the ` +
      `start.\n\n  ${stack.url}\n`,
  )
  if (stack.people) console.log(`  ${stack.people}\n`)
  for (const { name, state, pid } of stack.processes.states())
    console.log(`  ${state.padEnd(8)} ${name.padEnd(18)} ${pid}`)
  console.log(`\n  Logs: ${join(given.home, 'logs')}. Ctrl-C stops everything.`)
  await asked
  console.log('\nstopping')
  await stack.stop()
  rmSync(lock, { force: true })
  return 0
}

/** Listens from the beginning: a Ctrl-C while starting must not leave half of it running. */
function stopAsked(): Promise<void> {
  return new Promise((resolve) => {
    for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.on(signal, () => resolve())
  })
}

export function isAlive(pid: number): boolean {
  try {
    process.kill(pid, 0)
    return true
  } catch {
    return false
  }
}
