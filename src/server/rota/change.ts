/** Changes that the rota makes to a rotation's file: a start moved, another pool, paused or not. Each is a
 * version like any other, and is undone by going back to the one before. */
import type { Rotation } from '@/core/model'
import { editSource, type Edit } from '@/core/model/editing'
import { moveOne, moveSeries } from '@/core/rota/starting'
import { definitionRow } from '@/db/definitions'
import type { Context } from '../context'
import { saveDefinition } from '../definitions'
import { Problem } from '../http/problems'
import { validator, type BodyOf } from '../http/validator'

/** `before`: the version to go back to. */
export type RotaChanged = { version: number; before: number; changes: string[] }

const instant = {
  type: 'string',
  pattern: '^\\d{4}-\\d{2}-\\d{2}T\\d{2}:\\d{2}:\\d{2}(\\.\\d{1,3})?Z$',
} as const
/** One of three. `move`: the start that is now at `at` goes to `to`, both instants; with `series` all of its
 * kind. */
export const rotaChangeBody = validator({
  type: 'object',
  minProperties: 1,
  maxProperties: 1,
  additionalProperties: false,
  properties: {
    move: {
      type: 'object',
      additionalProperties: false,
      required: ['at', 'to', 'series'],
      properties: { at: instant, to: instant, series: { type: 'boolean' } },
    },
    pool: { type: 'string', minLength: 1, maxLength: 120 },
    paused: { type: 'boolean' },
  },
})
export type RotaChange = BodyOf<typeof rotaChangeBody>

/** @throws {Problem} NOT_FOUND, BODY_INVALID when it cannot be moved like that, DEFINITION_BROKEN,
 * CHANGED_MEANWHILE */
export async function changeRota(
  ctx: Context,
  key: string,
  change: RotaChange,
  who: string,
  nowMs: number,
): Promise<RotaChanged> {
  const row = await definitionRow(ctx.db, 'rotation', key)
  if (!row) throw new Problem('NOT_FOUND', `There is no rotation “${key}”.`)
  const edits = editsOf(row.document as Rotation, change, nowMs)
  const { version, changes } = await saveDefinition(
    ctx,
    'rotation',
    key,
    { source: editSource(row.source, edits), basedOn: row.version },
    who,
  )
  return { version, before: row.version, changes }
}

function editsOf({ title, when }: Rotation, change: RotaChange, nowMs: number): Edit[] {
  if (change.pool !== undefined) return [{ do: 'put', path: ['where', 'pool'], value: change.pool }]
  if (!change.move) return [{ do: 'put', path: ['paused'], value: change.paused || undefined }]
  if (!when)
    throw new Problem('BODY_INVALID', `${title} has no times of its own, so there is nothing to move.`)
  const { at, to, series } = change.move
  if (Date.parse(to) <= nowMs)
    throw new Problem(
      'BODY_INVALID',
      'That moment has passed. Choose one that lies ahead, or start the rotation now.',
    )
  const moved = series ? moveSeries(when, at, to) : moveOne(when, at, to)
  if ('why' in moved)
    throw new Problem('BODY_INVALID', `All starts of ${title} cannot be moved at once: ${moved.why}.`)
  return [
    ...(moved.rule !== when.rule ? [{ do: 'put' as const, path: ['when', 'rule'], value: moved.rule }] : []),
    ...(moved.start !== when.start
      ? [{ do: 'put' as const, path: ['when', 'start'], value: moved.start }]
      : []),
    ...(moved.moves !== when.moves
      ? [
          {
            do: 'put' as const,
            path: ['when', 'moves'],
            value: moved.moves.length > 0 ? moved.moves : undefined,
          },
        ]
      : []),
  ]
}
