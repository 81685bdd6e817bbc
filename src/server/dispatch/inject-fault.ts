/** Simulated agents do things wrong when they are told to: for teaching, and for tests. */
import { MISBEHAVIOURS, type InjectedFault } from '@/core/execution'
import { agentById, setMisbehaviours } from '@/db/agents'
import { note } from '@/db/audit'
import { notify } from '@/db/notify'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { validator, type BodyOf } from '../http/validator'

/** Without `what`: well again at once. */
export const injectFaultBody = validator({
  type: 'object',
  additionalProperties: false,
  properties: {
    what: { enum: [...MISBEHAVIOURS] },
    minutes: { type: 'number', exclusiveMinimum: 0, maximum: 120 },
    factor: { type: 'number', minimum: 1, maximum: 1000 },
    environment: { type: 'string', maxLength: 80 },
  },
})
export type InjectFaultRequest = BodyOf<typeof injectFaultBody>
const MINUTES = 2

/** @throws {Problem} NOT_FOUND; BODY_INVALID for a real agent, or an environment it does not serve */
export async function injectFault(
  ctx: Context,
  agentId: string,
  { what, minutes = MINUTES, factor, environment }: InjectFaultRequest,
  who: string,
): Promise<void> {
  const agent = await agentById(ctx.db, agentId)
  if (!agent) throw new Problem('NOT_FOUND', 'There is no such agent.')
  if (!agent.simulated)
    throw new Problem(
      'BODY_INVALID',
      `${agent.name} drives real browsers: only simulated agents can be told to misbehave.`,
    )
  if (environment !== undefined && !agent.environments.includes(environment))
    throw new Problem('BODY_INVALID', `${agent.name} does not serve “${environment}”.`)
  const until = new Date(Date.now() + minutes * 60_000).toISOString()
  const orders: InjectedFault[] = what
    ? [
        ...agent.misbehaviours.filter((one) => one.what !== what || one.environment !== environment),
        {
          what,
          until,
          ...(factor !== undefined && { factor }),
          ...(environment !== undefined && { environment }),
        },
      ]
    : []
  await ctx.db.transaction(async (tx) => {
    await setMisbehaviours(tx, agentId, orders)
    await note(tx, who, 'agent.misbehave', agent.name, { orders })
  })
  await notify(ctx.db, 'settings') // its heartbeats read it anew
  await notify(ctx.db, 'fleet')
}
