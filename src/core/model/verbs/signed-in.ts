/** The verb that hands on who is signed in. */
import { NAME, object } from '../schema-parts'
import { SIGNED_IN_DOINGS } from '../signed-in-state'
import type { StepOf } from '../types'
import type { VerbDefinition } from './definition'

export const signedIn: VerbDefinition<'signed-in'> = {
  schema: object({ does: { enum: [...SIGNED_IN_DOINGS] }, as: NAME }, ['does', 'as']),
  read: (form) => form['signed-in'] as Omit<StepOf<'signed-in'>, 'verb'>,
  write: ({ does, as }) => ({ 'signed-in': { does, as } }),
  describe: ({ does, as }) => ({
    object: as,
    detail: does === 'keep' ? 'handed on' : 'from an earlier case',
  }),
  purpose: 'who is signed in, from one case to others',
  fields: [
    { path: ['signed-in', 'does'], label: 'It', kind: 'choice', choices: SIGNED_IN_DOINGS },
    {
      path: ['signed-in', 'as'],
      label: 'As',
      kind: 'text',
      hint: 'kept: handed on to other cases; taken: one of the handoffs the case takes',
    },
  ],
  fresh: () => ({ 'signed-in': { does: 'keep', as: 'signedIn' } }),
  handsOn: ({ does, as }) => (does === 'keep' ? [as] : []),
}
