/** Tries a mapping before it is kept: an example is really sent to the tracker, and closed there. */
import { fieldsOf, stateFrom, type DefectFacts, type TrackerMapping } from '@/core/tracker'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { closeExample, sendExample, TrackerProblem } from './tracker'

/** What the example is said to be. */
const EXAMPLE_FACTS: DefectFacts = {
  title: 'An example: please pass over it',
  severity: 'low',
  environment: 'Chromium, narrow',
  build: '0.0.0',
  case: 'an-example',
  person: '',
  owner: '',
}

/** @returns what the tracker made of it, a sentence each
 * @throws {Problem} TRACKER_DOWN: with what it answered, and what has been done there so far */
export async function tryMapping(
  ctx: Pick<Context, 'db'>,
  mapping: TrackerMapping,
  { key, person }: { key: string; person: string },
): Promise<string[]> {
  const said: string[] = []
  try {
    const facts = { ...EXAMPLE_FACTS, person, owner: person }
    const { number, state } = await sendExample(ctx, {
      ...fieldsOf(facts, mapping),
      key,
      title: facts.title,
      body: `${person} tries how defects are sent. It is closed at once.`,
    })
    said.push(`It took the example as ${number}, in the state ${told(state, mapping)}.`)
    const after = await closeExample(ctx, number, { key: `${key}-close`, state: mapping.states.close })
    said.push(
      after === undefined
        ? 'It took the message that closes it, and does not tell where it stands.'
        : `Closed by “${mapping.states.close}”, it says ${told(after, mapping)}.`,
    )
    if (after !== undefined && stateFrom(after, mapping) !== 'closed')
      said.push('That word is none of those for closed: such a defect would count as open here.')
    return said
  } catch (error) {
    if (!(error instanceof TrackerProblem)) throw error
    throw new Problem('TRACKER_DOWN', [...said, error.message].join(' '))
  }
}

function told(word: string, mapping: TrackerMapping): string {
  const ours = stateFrom(word, mapping)
  return ours === word ? `“${word}”` : `“${word}”, which is ${ours} here`
}
