import { finishOf, paceOf, type OpenPiece } from '.'

const MINUTE_MS = 60_000
const piece = (id: string, more: Partial<OpenPiece> = {}): OpenPiece => ({
  id,
  environment: 'a',
  estimateMs: MINUTE_MS,
  exclusive: [],
  after: [],
  scopes: [id],
  ...more,
})
const agents = [{ name: 'one', pool: 'P', seats: 2, environments: ['a'] }]
const ended = (count: number, ratio: number) =>
  Array.from({ length: count }, () => ({ ms: MINUTE_MS * ratio, estimateMs: MINUTE_MS }))
const finish = (open: OpenPiece[], ...over: ReturnType<typeof ended>) => finishOf(open, over, agents, 0)

test.each([
  { why: 'nothing has ended: as estimated', over: [], pace: 1 },
  { why: 'much has ended: as it went', over: ended(200, 2), pace: 2 },
  { why: 'little has ended: half believed', over: ended(5, 4), pace: 2 },
  { why: 'one that hung changes little', over: [...ended(99, 1), ...ended(1, 50)], pace: 1 },
  {
    why: 'what took no time says nothing',
    over: [
      { ms: 0, estimateMs: 5 },
      { ms: 5, estimateMs: 0 },
    ],
    pace: 1,
  },
])('pace: $why', ({ over, pace }) => expect(paceOf(over)).toBeCloseTo(pace, 1))

test('what is left is dealt to the seats, as long as things have taken so far', () => {
  const four = ['a', 'b', 'c', 'd'].map((id) => piece(id))
  expect(finish(four).p50Ms / MINUTE_MS).toBeCloseTo(2.2, 0)
  expect(finish(four, ...ended(200, 2)).p50Ms).toBeGreaterThan(finish(four).p50Ms * 1.7)
  expect(finish(four).p90Ms).toBeGreaterThanOrEqual(finish(four).p50Ms)
})
test('of what is at work only the rest counts; what is late is not over at once', () => {
  expect(finish([piece('a', { sinceMs: 50_000, agent: 'one' })]).p50Ms).toBeLessThan(15_000)
  expect(finish([piece('a', { sinceMs: 500_000, agent: 'one' })]).p50Ms).toBeGreaterThan(4000)
})
test('what follows something waits for it', () => {
  const [alone, behind] = [
    finish([piece('a'), piece('b')]).p50Ms,
    finish([piece('a'), piece('b', { after: ['a'] })]).p50Ms,
  ]
  expect(behind).toBeGreaterThan(alone * 1.6)
})
test('nothing left: now', () => expect(finish([])).toEqual({ p50Ms: 0, p90Ms: 0, pace: 1 }))
test('of thousands, the sum over the seats that serve each environment', () => {
  const many = Array.from({ length: 3000 }, (_, i) => piece(`p${i}`, { environment: i < 1000 ? 'b' : 'a' }))
  const found = finishOf(
    many,
    [],
    [...agents, { name: 'two', pool: 'P', seats: 1, environments: ['a', 'b'] }],
    0,
  )
  expect(found.p50Ms / MINUTE_MS).toBeCloseTo(1000, 0)
  expect(found.p90Ms).toBeGreaterThan(found.p50Ms)
})
