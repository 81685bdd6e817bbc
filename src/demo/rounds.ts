/** A guided run of the demo: rounds on deck that wait for their people. */
import type { Context } from '@/server/context'
import { startRun } from '@/server/runs'
import { DEMO_BUILDS } from './workspace'

/** Nothing of it is judged: that is for who looks at the demo. */
export const startRounds = (ctx: Context): Promise<number> =>
  startRun(
    ctx,
    {
      suite: 'rounds',
      environments: ['android-handset', 'ios-handset'],
      build: DEMO_BUILDS.at(-1)!,
      retries: 0,
      limitMs: 600_000,
      guided: [{ person: 'Mirela Voss' }, { person: 'Joss Okafor', environments: ['ios-handset'] }],
    },
    'Wren Adeyemi',
  )
