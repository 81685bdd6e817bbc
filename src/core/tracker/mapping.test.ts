import {
  fieldsOf,
  mappingProblems,
  STANDARD_MAPPING,
  stateFrom,
  stateTo,
  type DefectFacts,
  type TrackerMapping,
} from '.'

const FACTS: DefectFacts = {
  title: 'No fare',
  severity: 'high',
  environment: 'Narrow',
  build: '2026.11.4',
  case: 'fare-is-told',
  person: 'Priya Castellan',
  owner: 'Booking crew',
}
const mapping = (change: Partial<TrackerMapping>): TrackerMapping => ({ ...STANDARD_MAPPING, ...change })
const states = (change: Partial<TrackerMapping['states']>) =>
  mapping({ states: { ...STANDARD_MAPPING.states, ...change } })

test.each<[string, string, TrackerMapping]>([
  ['closed', 'closed', STANDARD_MAPPING],
  ['Closed ', 'closed', STANDARD_MAPPING],
  ['in work', 'in work', STANDARD_MAPPING],
  ['ashore', 'closed', states({ closed: ['Ashore', 'sunk'] })],
  ['closed', 'closed', states({ closed: ['Ashore'] })],
  ['moored', 'said fixed', states({ saidFixed: ['moored'] })],
])('the tracker’s “%s” is %s here', (word, expected, given) => expect(stateFrom(word, given)).toBe(expected))

test('what a defect is to become is said in the tracker’s words', () => {
  const given = states({ close: 'ashore', reopen: 'at sea' })
  expect([stateTo('closed', given), stateTo('open', given)]).toEqual(['ashore', 'at sea'])
})

test('severities and fields are sent where there are any, with what the defect has', () => {
  expect(fieldsOf(FACTS, STANDARD_MAPPING)).toEqual({})
  const given = mapping({
    severities: { high: 'storm', low: 'breeze' },
    fields: [
      { name: 'labels', value: 'ferry ${environment} ${build}' },
      { name: 'assigned', value: '${owner}' },
      { name: 'plain', value: 'always $ and ${' },
    ],
  })
  expect(fieldsOf(FACTS, given)).toEqual({
    severity: 'storm',
    labels: 'ferry Narrow 2026.11.4',
    assigned: 'Booking crew',
    plain: 'always $ and ${',
  })
  expect(fieldsOf({ ...FACTS, severity: 'normal' }, given)).not.toHaveProperty('severity')
})

test.each<[string, TrackerMapping, string[]]>([
  ['nothing', STANDARD_MAPPING, []],
  ['no word to close with', states({ close: ' ' }), ['Say with which word a defect is closed.']],
  ['no word to open with', states({ reopen: '' }), ['Say with which word a defect is opened again.']],
  [
    'a word for two states',
    states({ closed: ['Done'], saidFixed: ['done'] }),
    ['“Done” cannot be both closed and said to be fixed.'],
  ],
  [
    'a field of ours',
    mapping({ fields: [{ name: 'body', value: 'x' }] }),
    ['body is sent anyway: choose another name.'],
  ],
  [
    'a field twice, and one without a name',
    mapping({ fields: ['a', 'a', 'a', ''].map((name) => ({ name, value: '' })) }),
    ['A field needs a name.', 'Field a stands there twice.'],
  ],
  [
    'a value of nothing',
    mapping({ fields: [{ name: 'where', value: '${harbour}' }] }),
    [
      'Field where: ${harbour} is nothing a defect has. There is: title, severity, environment, build, ' +
        'case, person, owner.',
    ],
  ],
])('a mapping with %s', (_, given, problems) => expect(mappingProblems(given)).toEqual(problems))
