import { spawn, spawnSync, type ChildProcess } from 'node:child_process'
import { endOrphans } from './orphans'

const sleeper = (owner: number) =>
  spawn('sleep', ['60'], { env: { ...process.env, OAK_AGENT_PROCESS: String(owner) }, stdio: 'ignore' })
const ended = (child: ChildProcess) =>
  new Promise<string | null>((resolve) => child.once('exit', (_, signal) => resolve(signal)))

test('what a killed agent left behind is ended; what others started is left alone', async () => {
  // a number that was a process, and is none any more
  const { pid: gone } = spawnSync(process.execPath, ['-e', ''])
  const [orphan, mine] = [sleeper(gone), sleeper(process.pid)]
  const end = ended(orphan)
  await Promise.all([orphan, mine].map((child) => new Promise((resolve) => child.once('spawn', resolve))))
  expect(endOrphans()).toBeGreaterThanOrEqual(1) // other agents of this machine may have left some too
  expect(await end).toBe('SIGKILL')
  expect(mine.exitCode ?? mine.signalCode).toBeNull()
  mine.kill()
  await ended(mine)
})
