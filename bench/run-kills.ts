/** A run of 400 case runs while processes are killed at random: what must hold afterwards, holds. Prints
 * counts beside what they have to be. */
import { killAtRandom } from './kills'
import { Ledger } from './ledger'
import { OWN, signedIn, startProduct } from './product'

const PORT = 4900
const KILLS = 40
const SEED = 7
const PAUSE_MS = [1200, 4200] as const
const ENVIRONMENTS = [
  'chromium-windows',
  'firefox-windows',
  'chromium-macos',
  'webkit-macos',
  'android-handset',
]
const SUITE =
  'suite: chaos\ntitle: Four hundred\nentries:\n  - suite: booking\n    repeat: 4\n  - suite: ' +
  'gate-and-manifest\n    repeat: 2\n'

process.env.OAK_LEASE_MS = '4000'
const product = await startProduct({ port: PORT, demo: true })
const ledger = new Ledger(product)
try {
  const { context, close } = await signedIn(product)
  await context.request.put('/api/definitions/suite/chaos', {
    headers: OWN,
    data: { source: SUITE, basedOn: 0 },
  })
  const started = await context.request.post('/api/runs', {
    headers: OWN,
    data: { suite: 'chaos', environments: ENVIRONMENTS, build: '2026.11.3', retries: 1, limitMs: 60_000 },
  })
  const { id } = (await started.json()) as { id: number }
  await close()
  const begun = Date.now()
  const kills = await killAtRandom(product, ledger, {
    kills: KILLS,
    pauseMs: PAUSE_MS,
    seed: SEED,
    isOver: () => ledger.hasEnded(id),
  })
  const ended = await ledger.untilEnded(id)
  console.log(
    `      ${Object.entries(kills)
      .map(([name, n]) => `${name} ${n} times`)
      .join(', ')}; ${ended ? `ended after ${Math.round((Date.now() - begun) / 1000)} s` : 'did not end'}`,
  )
  await ledger.check(id)
} finally {
  await product.stop()
}
process.exit(ledger.wrong > 0 ? 1 : 0)
