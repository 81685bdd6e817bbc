import { createServer } from 'node:net'
import { CliProblem } from './options'

const isFree = (port: number, host = '127.0.0.1') =>
  new Promise<boolean>((resolve) => {
    const server = createServer()
    server.once('error', () => resolve(false))
    server.listen(port, host, () => server.close(() => resolve(true)))
  })

/** @throws {CliProblem} naming the port and what to do */
export async function requireFree(port: number, what: string): Promise<void> {
  if (!(await isFree(port)))
    throw new CliProblem(
      `port ${port} (${what}) is taken by another program. Choose another with --port N, or stop that ` +
        'program',
    )
}

const TRIED = 200

export async function freePort(first: number): Promise<number> {
  for (let port = first; port < first + TRIED; port++) if (await isFree(port)) return port
  throw new CliProblem(`no free port between ${first} and ${first + TRIED}`)
}

/** Waits until an address answers with anything but an error of the server. @returns false when it did not
 * within `ms` or `gone()` */
export async function answers(url: string, ms: number, gone: () => boolean = () => false): Promise<boolean> {
  const until = Date.now() + ms
  while (Date.now() < until && !gone()) {
    const ok = await fetch(url, { signal: AbortSignal.timeout(2000) }).then(
      (response) => response.status < 500,
      () => false,
    )
    if (ok) return true
    await new Promise((resolve) => setTimeout(resolve, 150))
  }
  return false
}
