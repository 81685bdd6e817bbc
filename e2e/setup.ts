/** Starts the whole product as a person would, on ports and data of its own, with short leases, a small
 * history, and stand-ins that do nothing by chance: a journey that wants a surprise asks for it. */
import { spawn } from 'node:child_process'

const READY_MS = 600_000

export default async function setup(): Promise<(() => Promise<void>) | undefined> {
  if (process.env.OAK_ATTACH) return undefined // to one that runs already, while a journey is being written
  const port = process.env.OAK_PORT ?? '4700'
  const oak = spawn(process.execPath, ['oak', 'start', '--port', port], {
    env: { ...process.env, OAK_LEASE_MS: '6000', OAK_DEMO_HISTORY: 'short', FERRY_SURPRISES: 'none' },
    stdio: ['ignore', 'pipe', 'pipe'],
  })
  let said = ''
  const ready = new Promise<void>((resolve, reject) => {
    const timer = setTimeout(() => {
      oak.kill('SIGINT') // or what it has started would stay behind
      reject(new Error(`it was not ready in time:\n${said}`))
    }, READY_MS)
    const take = (part: Buffer) => {
      said += String(part)
      if (said.includes('Ctrl-C stops everything')) {
        clearTimeout(timer)
        resolve()
      }
    }
    oak.stdout.on('data', take)
    oak.stderr.on('data', take)
    oak.once('exit', (code) => reject(new Error(`./oak start ended with ${code}:\n${said}`)))
  })
  await ready
  return async () => {
    const gone = new Promise<void>((resolve) => oak.once('exit', () => resolve()))
    oak.kill('SIGINT')
    await gone
  }
}
