/** The agent protocol, spoken as cheaply as may be: what asks must cost less than what answers, so not by
 * `fetch`. */
import { readFileSync } from 'node:fs'
import { Agent, request } from 'node:http'
import { join } from 'node:path'
import { OWN, signedIn, type Product } from './product'

export type Given = { work: { attemptId: string; lease: number } | null }

export class Protocol {
  private readonly sockets = new Agent({ keepAlive: true, maxSockets: 900 })
  private readonly port: string
  private readonly token: string

  constructor({ base, home }: Product) {
    this.port = new URL(base).port
    // the one of local agents, good for any name
    this.token = `oak_agent_${readFileSync(join(home, 'agent-token'), 'utf8')}`
  }

  ask<T>(path: string, body: unknown): Promise<T> {
    return new Promise((resolve, reject) => {
      const text = JSON.stringify(body)
      const out = request(
        {
          host: '127.0.0.1',
          port: this.port,
          path,
          method: 'POST',
          agent: this.sockets,
          headers: {
            'content-type': 'application/json',
            'content-length': Buffer.byteLength(text),
            authorization: `Bearer ${this.token}`,
          },
        },
        (response) => {
          let said = ''
          response
            .setEncoding('utf8')
            .on('data', (part: string) => {
              said += part
            })
            .on('error', reject)
          response.on('end', () =>
            (response.statusCode ?? 500) < 300
              ? resolve((said === '' ? undefined : JSON.parse(said)) as T)
              : reject(new Error(`${path}: ${response.statusCode} ${said.slice(0, 200)}`)),
          )
        },
      )
      out.on('error', reject)
      out.end(text)
    })
  }

  /** @returns the agent's id */
  async register(name: string, seats: number, environments: string[]): Promise<string> {
    return (
      await this.ask<{ id: string }>('/api/agents/register', {
        name,
        instance: 'first',
        pool: 'Load',
        version: '1',
        protocol: 2,
        seats,
        environments,
        simulated: true,
      })
    ).id
  }

  close(): void {
    this.sockets.destroy()
  }
}

/** Environments, cases and a suite of them, each repeated, in a product without the ferry line. */
export async function layOutSuite(
  product: Product,
  { environments, cases, repeats }: { environments: string[]; cases: number; repeats: number },
): Promise<{ start(): Promise<{ run: number; seconds: number }>; close(): Promise<void> }> {
  const { context, close } = await signedIn(product)
  const put = async (path: string, data: object) => {
    const answer = await context.request.put(path, { headers: OWN, data })
    if (!answer.ok()) throw new Error(await answer.text())
  }
  await put(
    '/api/environments',
    environments.map((key) => ({
      key,
      title: key,
      browser: 'Chromium',
      os: 'Debian',
      width: 800,
      height: 600,
      locale: 'en-GB',
      simulated: true,
    })),
  )
  const keys = Array.from({ length: cases }, (_, i) => `crossing-${i}`)
  for (const key of keys)
    await put(`/api/definitions/case/${key}`, {
      source: `case: ${key}\ntitle: ${key}\nsteps:\n  - note: a crossing\n  - note: another\n`,
      basedOn: 0,
    })
  await put('/api/definitions/suite/load', {
    source: `suite: load\ntitle: Load\nentries:\n${keys.map((key) => `  - case: ${key}\n    repeat: ${repeats}\n`).join('')}`,
    basedOn: 0,
  })
  return {
    close,
    async start() {
      const begun = performance.now()
      const started = await context.request.post('/api/runs', {
        headers: OWN,
        timeout: 300_000,
        data: { suite: 'load', environments, build: '1.0', retries: 0, limitMs: 600_000 },
      })
      if (!started.ok()) throw new Error(await started.text())
      return {
        run: ((await started.json()) as { id: number }).id,
        seconds: (performance.now() - begun) / 1000,
      }
    },
  }
}
