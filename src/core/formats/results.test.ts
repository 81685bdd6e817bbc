import fc from 'fast-check'
import { encodingOf, writtenSecondsMs } from '.'
import { RESULT_TEXT_CHARS } from './results'
import { read, refusal } from './testing/reading'

const suite = (inner: string) => `<testsuites><testsuite name="Booking">\n${inner}\n</testsuite></testsuites>`
const outcomes = (text: string) => read(text).cases.map(({ outcome }) => outcome)

describe('JUnit XML', () => {
  test('counts suites (nested and empty too), cases, outcomes, time and attachments', () => {
    const { summary, cases } = read(`<?xml version="1.0"?>
<testsuites><testsuite name="Booking"><properties><property name="build" value="2026.11.3"/></properties>
  <testcase name="search" classname="booking.Search" time="1.5" file="search.ts">\
<properties><property name="agent" value="maren-01"/></properties></testcase>
  <testsuite name="Pay"><testcase name="card" time="0.250">\
<failure message="41.50 is not 43.20" type="Check">at pay</failure><failure message="and again"/>\
<system-out>[[ATTACHMENT|shots/pay.png]] and
[[ATTACHMENT| shots/pay 2.png ]]</system-out></testcase></testsuite>
</testsuite><testsuite name="Empty"/></testsuites>`)
    expect(summary).toEqual({
      format: 'junit',
      suites: 3,
      cases: 2,
      outcomes: { passed: 1, recovered: 0, failed: 1, errored: 0, skipped: 0, cancelled: 0 },
      ms: 1750,
      attachments: 2,
      problems: [],
    })
    expect(cases).toMatchObject([
      {
        suites: ['Booking'],
        name: 'search',
        className: 'booking.Search',
        file: 'search.ts',
        line: 3,
        properties: { agent: 'maren-01' },
      },
      {
        suites: ['Booking', 'Pay'],
        name: 'card',
        message: '41.50 is not 43.20',
        type: 'Check',
        detail: 'at pay',
        attachments: ['shots/pay.png', 'shots/pay 2.png'],
      },
    ])
  })
  test('suites keep their names, times, properties and what they announce', () => {
    const { suites, summary } =
      read(`<testsuites tests="3" failures="1"><testsuite name="Booking" tests="3" failures="1" errors="0" time="12.5">
<properties><property name="build" value="2026.11.3"/></properties>\
<testcase name="a" time="1"><properties><property name="own" value="x"/></properties></testcase>
<testsuite name="Pay" tests="2" failures="1"><testcase name="b" time="2"><failure/></testcase>\
<testcase name="c"/></testsuite></testsuite></testsuites>`)
    expect(summary.problems).toEqual([])
    expect(suites).toEqual([
      {
        path: ['Booking', 'Pay'],
        line: 3,
        cases: 2,
        ms: 2000,
        announced: { tests: 2, failures: 1 },
        properties: {},
      },
      {
        path: ['Booking'],
        line: 1,
        cases: 3,
        ms: 12_500,
        announced: { tests: 3, failures: 1, errors: 0 },
        properties: { build: '2026.11.3' },
      },
    ])
  })
  test('a suite that counts its own cases only announces nothing wrong', () =>
    expect(
      read(
        '<testsuite name="A" tests="1"><testcase name="a"/><testsuite name="B" tests="1"><testcase ' +
          'name="b"/></testsuite></testsuite>',
      ).summary.problems,
    ).toEqual([]))
  test('what is announced and is not there is told, with the suite and its line', () => {
    const { problems } = read(
      '<testsuites tests="9">\n<testsuite name="Pay" tests="4" failures="2" errors="x">\n<testcase ' +
        'name="a"><failure/></testcase></testsuite></testsuites>',
    ).summary
    expect(problems).toEqual([
      { line: 1, what: 'the file announces 9 cases, found: 1' },
      { line: 2, what: '“Pay” announces 4 cases, found: 1' },
      { line: 2, what: '“Pay” announces 2 failures, found: 1' },
    ])
  })
  test.each([
    ['passed', '<testcase name="a"/>'],
    ['failed', '<testcase name="a"><failure/></testcase>'],
    ['errored', '<testcase name="a"><error message="x"/></testcase>'],
    ['failed', '<testcase name="a"><failure/><error/></testcase>'],
    ['skipped', '<testcase name="a"><skipped message="later"/></testcase>'],
    ['skipped', '<testcase name="a" status="notrun"/>'],
    ['failed', '<testcase name="a" status="run"><skipped/><failure/></testcase>'],
    [
      'recovered',
      '<testcase name="a"><flakyFailure message="once"><stackTrace>x</stackTrace></flakyFailure></testcase>',
    ],
    ['recovered', '<testcase name="a"><rerunError/></testcase>'],
    ['failed', '<testcase name="a"><failure/><rerunFailure/></testcase>'],
  ])('%s: %s', (outcome, xml) => expect(outcomes(suite(xml))).toEqual([outcome]))
  test('a root that is one suite, and cases outside of any', () => {
    expect(read('<testsuite name="s"><testcase name="a"/></testsuite>').summary).toMatchObject({
      suites: 1,
      cases: 1,
    })
    expect(read('<testsuites><testcase name="a"/></testsuites>').summary).toMatchObject({
      suites: 0,
      cases: 1,
    })
    expect(read('<testsuites/>').summary).toMatchObject({ suites: 0, cases: 0 })
  })
  test('text is read as it was meant: CDATA, characters of its own, none of a terminal', () => {
    const [result] = read(
      suite(
        '<testcase name="a &lt; b"><system-out><![CDATA[<ok> ' +
          '\u001b[31mred\u001b[0m\u0007]]></system-out><system-err>&#163;3 ' +
          '&#27;[1mbold</system-err></testcase>',
      ),
    ).cases
    expect(result).toMatchObject({ name: 'a < b', output: '<ok> red', errorOutput: '£3 bold' })
  })
  test('output of a rerun is not output of the case', () =>
    expect(
      read(
        suite(
          '<testcase name="a"><flakyFailure><system-out>[[ATTACHMENT|x.png]]</system-out></flakyFailure></testcase>',
        ),
      ).summary.attachments,
    ).toBe(0))
  test('long output is cut, and its attachments are still found', () => {
    const { summary, cases } = read(
      suite(
        `<testcase name="a"><system-out>${'x'.repeat(3_000_000)}[[ATTACHMENT|late.png]]</system-out></testcase>`,
      ),
    )
    expect(summary.attachments).toBe(1)
    expect(cases[0]!.output).toHaveLength(RESULT_TEXT_CHARS)
  })
  test('a time that is no number is a problem with its line, and a nameless case too', () => {
    const { summary } = read(suite('<testcase name="a" time="soon"/>\n<testcase time="1"/>'))
    expect(summary).toMatchObject({
      ms: 1000,
      problems: [
        { line: 2, what: 'the time “soon” of “a” is no number; taken as 0' },
        { line: 3, what: 'a case has no name' },
      ],
    })
  })
  test.each([
    [
      'entities',
      '<!DOCTYPE x [<!ENTITY a "b">]>\n<testsuites/>',
      '1: it declares entities, which are not read',
    ],
    [
      'an entity nobody declared',
      suite('<testcase name="&boom;"/>'),
      '2: it uses an entity that is not one of XML’s own; entities are not read',
    ],
    [
      'a file cut off between tags',
      '<testsuites>\n<testsuite name="a">\n<testcase name="b"/>\n',
      '4: it is cut off: <testsuite> is not closed',
    ],
    [
      'a file cut off in a tag',
      '<testsuites>\n<testsuite name="a',
      '2: it is cut off: <testsuites> is not closed',
    ],
    ['tags that do not match', '<testsuites>\n</testsuite>', '2: it is not sound XML: unexpected close tag'],
    [
      'another kind of XML',
      '<html><body/></html>',
      '1: it is not a result file: its root is <html>, expected <testsuites> or <testsuite>',
    ],
    ['only a declaration', '<?xml version="1.0"?>\n', '2: it is not a result file: there is nothing in it'],
    ['no result file', 'reference,fare\n', '1: it is not a result file: neither JUnit XML nor TAP'],
    ['nothing', ' \n', '1: it is not a result file: it is empty'],
    ['suites without end', '<testsuite>'.repeat(300), '1: elements are nested deeper than 200'],
  ])('refused: %s', (_, text, says) => expect(refusal(text)).toBe(says))
  test('property: it does not matter how the file is cut into pieces', () => {
    const text = suite(
      '<testcase name="é &amp; b" ' +
        'time="1,5"><system-err>&#x1B;[1mb&#0;&#10;c</system-err><system-out>a [[ATTACHMENT|x/y.png]] ' +
        '\u001b[0m b</system-out><failure message="m">d]]&gt;</failure></testcase>',
    )
    fc.assert(
      fc.property(fc.array(fc.nat(text.length), { maxLength: 8 }), (cuts) => {
        const at = [0, ...cuts.sort((a, b) => a - b), text.length]
        expect(
          read(
            text,
            at.slice(1).map((to, i) => text.slice(at[i], to)),
          ),
        ).toEqual(read(text))
      }),
    )
  })
})

test.each<[string | undefined, number | undefined]>([
  ['0,532', 532],
  ['1,234.5', 1_234_500],
  ['1.234,5', 1_234_500],
  ['1,234,567', 1_234_567_000],
  ['12', 12_000],
  ['.5', 500],
  ['1e-3', 1],
  ['', 0],
  [undefined, 0],
  ['-1', undefined],
  ['NaN', undefined],
  ['1 234.5', 1_234_500],
  ['Infinity', undefined],
])('%s s is %s ms', (written, ms) => expect(writtenSecondsMs(written)).toBe(ms))

test.each<[string, number[], string]>([
  ['a mark', [0xff, 0xfe, 0x3c], 'utf-16le'],
  ['nothing said', [...Buffer.from('<testsuites/>')], 'utf-8'],
  ['a declaration', [...Buffer.from('<?xml version="1.0" encoding="ISO-8859-1"?>')], 'iso-8859-1'],
  ['an unknown one', [...Buffer.from('<?xml version="1.0" encoding="x-user"?>')], 'utf-8'],
])('the encoding by %s', (_, bytes, label) => expect(encodingOf(Uint8Array.from(bytes))).toBe(label))
