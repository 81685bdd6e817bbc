import { decideDue, LATE_MS } from './starting'

const NOW = Date.parse('2026-11-23T12:00:00Z')
const at = (minutesAgo: number) => ({ at: new Date(NOW - minutesAgo * 60_000).toISOString(), local: '' })
const said = (ago: number[], missed: 'run' | 'skip', whileRunning: 'start' | 'skip', running = false) =>
  decideDue(ago.map(at), { missed, whileRunning }, { nowMs: NOW, running }).map(
    (one) => `${one.do}${one.why ? `: ${one.why}` : ''}`,
  )

test.each<[string, number[], 'run' | 'skip', 'start' | 'skip', boolean, RegExp[]]>([
  ['nothing due', [], 'run', 'start', false, []],
  ['one in time', [0.5], 'skip', 'skip', false, [/^start$/]],
  ['one in time while the last still runs, which does not matter', [0.5], 'skip', 'start', true, [/^start$/]],
  [
    'one in time while the last still runs, which does',
    [0.5],
    'skip',
    'skip',
    true,
    [/^skip: the run before/],
  ],
  ['missed ones, not to be run', [300, 60], 'skip', 'start', false, [/^skip: nobody/, /^skip: nobody/]],
  ['missed ones, run late: once', [300, 60], 'run', 'start', false, [/^skip: .*a later one/, /^start: late/]],
  [
    'missed ones and one in time: only that',
    [300, 1],
    'run',
    'start',
    false,
    [/^skip: .*a later one/, /^start$/],
  ],
  [
    'two in time, not beside each other',
    [1.5, 0.5],
    'run',
    'skip',
    false,
    [/^start$/, /^skip: the run before/],
  ],
])('%s', (_, ago, missed, whileRunning, running, expected) => {
  const decisions = said(ago, missed, whileRunning, running)
  expect(decisions).toHaveLength(expected.length)
  decisions.forEach((one, i) => expect(one).toMatch(expected[i]!))
})
test('late begins after two minutes, not with them', () => {
  expect(LATE_MS).toBe(120_000)
  expect(said([2], 'skip', 'start')).toEqual(['start'])
  expect(said([2.001], 'skip', 'start')[0]).toMatch(/^skip/)
})
