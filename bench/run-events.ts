/** 5,000 log lines a second for a minute, from 50 seats: all taken, and all in order. */
import { setTimeout } from 'node:timers/promises'
import { signedIn, startProduct } from './product'
import { layOutSuite, Protocol, type Given } from './protocol'
import { quantile, report } from './report'

/** A little more is sent than has to be taken: seats begin one after the other. */
const [AGENTS, SEATS, LINES_A_SECOND, LEAST, SECONDS] = [10, 5, 5250, 5000, 60]
const ALL = AGENTS * SEATS
/** As our agents gather them. */
const BATCH_MS = 400
const BATCH = (LINES_A_SECOND / ALL) * (BATCH_MS / 1000)

const product = await startProduct({ port: 4930, demo: false })
const protocol = new Protocol(product)
const times: number[] = []
let wrong = 0
try {
  const suite = await layOutSuite(product, { environments: ['wide'], cases: ALL, repeats: 1 })
  const agents = await Promise.all(
    Array.from({ length: AGENTS }, (_, i) => protocol.register(`lines-${i}`, SEATS, ['wide'])),
  )
  await suite.start()
  await suite.close()
  const held = await Promise.all(
    agents.flatMap((id) =>
      Array.from({ length: SEATS }, async (_, i) => ({
        id,
        work: (await protocol.ask<Given>(`/api/agents/${id}/claim`, { waitMs: 20_000, seat: i + 1 })).work!,
      })),
    ),
  )
  const begun = performance.now()
  await Promise.all(held.map(({ id, work }, i) => send(id, work, i)))
  const seconds = (performance.now() - begun) / 1000
  const sent = ALL * SECONDS * (LINES_A_SECOND / ALL)
  console.log(
    `${(LEAST / (sent / seconds)).toFixed(2)}  log lines a second: ${Math.round(sent / seconds)} ` +
      `over ${seconds.toFixed(0)} s, at least ${LEAST}`,
  )
  report('a batch, 95th of 100', quantile(times, 0.95), BATCH_MS, 'ms')
  const { context, close } = await signedIn(product)
  for (const { work } of held) {
    const viewModel = (await (await context.request.get(`/api/attempts/${work.attemptId}`)).json()) as {
      notes: { text: string }[]
    }
    const numbers = viewModel.notes.map(({ text }) => Number(text.split(' ')[1]))
    if (numbers.length !== sent / ALL || numbers.some((number, i) => number !== i + 1)) wrong++
  }
  await close()
  console.log(
    `${wrong === 0 ? 'good' : 'BAD '}  logs of ${held.length} with a line missing, double or out of ` +
      `order: ${wrong}, must be 0`,
  )
} finally {
  protocol.close()
  await product.stop()
}
process.exit(wrong === 0 ? 0 : 1)

async function send(
  id: string,
  { attemptId, lease }: NonNullable<Given['work']>,
  place: number,
): Promise<void> {
  await setTimeout((place / ALL) * BATCH_MS)
  const from = performance.now()
  const batches = (SECONDS * 1000) / BATCH_MS
  for (let batch = 0, beaten = 0; batch < batches; batch++) {
    const begun = performance.now()
    await protocol.ask(`/api/agents/${id}/attempts/${attemptId}/events`, {
      lease,
      events: Array.from({ length: BATCH }, (_, i) => ({
        no: batch * BATCH + i + 1,
        atMs: Math.round(begun - from),
        type: 'note',
        text: `line ${batch * BATCH + i + 1} of the crossing`,
      })),
    })
    times.push(performance.now() - begun)
    if (performance.now() - beaten > 5000) {
      beaten = performance.now()
      await protocol.ask(`/api/agents/${id}/heartbeat`, { attempts: [{ attemptId, lease }] })
    }
    await setTimeout(Math.max(0, from + (batch + 1) * BATCH_MS - performance.now()))
  }
}
