import { readFileSync } from 'node:fs'
import { parseDefinition } from './files'
import { VERB_NAMES } from './verbs'

const text = readFileSync('docs/formats/README.md', 'utf8')
const examples = [...text.matchAll(/```yaml (case|routine|suite|rotation|policy)\n([\s\S]*?)```/g)].map(
  ([, kind, source]) => ({ kind: kind!, source: source! }),
)

test.each(examples)('the example of a $kind in the documentation is sound', ({ kind, source }) =>
  expect(parseDefinition(`example.${kind}.yaml`, source).problems).toEqual([]),
)
test('there is one of each kind, and the case shows every verb', () => {
  expect(examples.map(({ kind }) => kind)).toEqual([
    'case',
    'routine',
    'suite',
    'suite',
    'rotation',
    'policy',
  ])
  for (const verb of VERB_NAMES) expect(examples[0]!.source).toMatch(new RegExp(`[-{] ?${verb}:`))
})
