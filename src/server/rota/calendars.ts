/** Calendars of times in which nothing runs, kept once for all rotations that name them. */
import type { BlackoutCalendar } from '@/core/rota'
import { timesFaults } from '@/core/calendar'
import { note } from '@/db/audit'
import { notify } from '@/db/notify'
import { putSetting, setting } from '@/db/settings'
import type { Context } from '../context'
import { validatorOf } from '../http/validator'
import { Problem } from '../http/problems'

const NAME = 'blackout-calendars'
const moment = { type: 'string', minLength: 10, maxLength: 40 } as const
export const calendarsBody = validatorOf<BlackoutCalendar[]>()({
  type: 'array',
  maxItems: 50,
  items: {
    type: 'object',
    additionalProperties: false,
    required: ['key', 'title', 'blackout'],
    properties: {
      key: { type: 'string', pattern: '^[a-z0-9][a-z0-9-]*$', maxLength: 80 },
      title: { type: 'string', minLength: 1, maxLength: 120 },
      blackout: {
        type: 'array',
        maxItems: 200,
        items: {
          type: 'object',
          additionalProperties: false,
          required: ['start', 'end'],
          properties: { rule: { type: 'string', minLength: 1, maxLength: 300 }, start: moment, end: moment },
        },
      },
    },
  },
})

export const blackoutCalendars = async (ctx: Pick<Context, 'db'>): Promise<BlackoutCalendar[]> =>
  (await setting<BlackoutCalendar[]>(ctx.db, NAME)) ?? []

/** All calendars at once. @throws {Problem} BODY_INVALID with each place that is no time, or names the same
 * calendar twice */
export async function putBlackoutCalendars(
  ctx: Context,
  calendars: BlackoutCalendar[],
  who: string,
): Promise<void> {
  const faults = calendars.flatMap(({ title, blackout }, i) =>
    timesFaults({ timezone: 'UTC', start: '2000-01-01', blackout }).map(({ path, message }) => ({
      field: `${i}.${path}`,
      message: `${title}: ${message}`,
    })),
  )
  const twice = calendars.find(({ key }, i) => calendars.findIndex((other) => other.key === key) !== i)
  if (twice) faults.push({ field: 'key', message: `two calendars are called “${twice.key}”` })
  if (faults.length > 0)
    throw new Problem('BODY_INVALID', `${faults.map(({ message }) => message).join('; ')}.`, faults)
  await ctx.db.transaction(async (tx) => {
    await putSetting(tx, NAME, calendars)
    await note(tx, who, 'calendars.put', NAME, { calendars: calendars.map(({ key }) => key) })
  })
  await notify(ctx.db, 'rota')
}
