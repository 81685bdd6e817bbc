/** Asks /api/health again and again, in a process of its own: what the measurement itself does in the
 * meantime does not count.
 * How late the timer of that process is says how much of an answer's time is the machine's: whoever asks
 * waits for a core as well. */
import { spawn } from 'node:child_process'

const EVERY_MS = 200

export type HealthSeen = {
  /** Milliseconds of each answer, the good ones. */
  answers: number[]
  /** How often there was none. */
  none: number
  /** Milliseconds by which its own timer was late, each time. */
  late: number[]
}

const ASKER = `
const [port, everyMs] = process.argv.slice(1).map(Number)
const { request } = require('node:http')
// Who measures does not wait for a core behind what is measured. Linux shares cores between sessions, so it is
// the session's priority that counts (sched(7), autogroup); only the superuser may raise it.
try { require('node:fs').writeFileSync('/proc/self/autogroup', '-15') } catch {}
const seen = { answers: [], none: 0, late: [] }
let isOver = false
const ask = () => new Promise((resolve) => {
  const out = request({ host: '127.0.0.1', port, path: '/api/health', timeout: 5000 }, (response) => {
    response.resume().once('end', () => resolve(response.statusCode))
  })
  out.once('error', () => resolve(0)).once('timeout', () => out.destroy(new Error('late')))
  out.end()
})
process.once('SIGTERM', () => { isOver = true })
;(async () => {
  while (!isOver) {
    const from = performance.now()
    if ((await ask()) === 200) seen.answers.push(performance.now() - from)
    else seen.none++
    const paused = performance.now()
    await new Promise((resolve) => setTimeout(resolve, everyMs))
    seen.late.push(performance.now() - paused - everyMs)
  }
  process.stdout.write(JSON.stringify(seen))
})()`

/** @returns ends it, with what was seen */
export function watchHealth(port: number): () => Promise<HealthSeen> {
  // A session of its own: Linux shares cores between sessions.
  const asker = spawn(process.execPath, ['-e', ASKER, String(port), String(EVERY_MS)], {
    detached: true,
    stdio: ['ignore', 'pipe', 'inherit'],
  })
  let said = ''
  asker.stdout.setEncoding('utf8').on('data', (part: string) => (said += part))
  return async () => {
    const closed = new Promise((resolve) => asker.once('close', resolve))
    asker.kill('SIGTERM')
    await closed
    return JSON.parse(said) as HealthSeen
  }
}
