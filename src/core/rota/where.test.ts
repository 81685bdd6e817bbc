import type { Environment, EnvironmentRule, RotationWhere } from '../model'
import { levelOf, pickEnvironments, roleEnvironment } from './where'
import { randomFrom } from '../execution/random'

const environment = (browser: string, os: string, screen = '1280x800', locale = 'en-GB'): Environment => {
  const [width, height] = screen.split('x').map(Number)
  return {
    key: [browser, os, screen, locale].join(' '),
    title: '',
    browser,
    os,
    width: width!,
    height: height!,
    locale,
    simulated: true,
  }
}
const where = (more: Partial<RotationWhere>): RotationWhere => ({
  cover: 'all',
  never: [],
  always: [],
  spread: 'split',
  leaveOut: false,
  lanes: {},
  ...(more.environments ? {} : { axes: {} }),
  ...more,
})
const FLEET = [
  environment('C', 'W'),
  environment('C', 'M'),
  environment('F', 'W'),
  environment('K', 'M'),
  environment('C', 'W', '1280x800', 'de-DE'),
  environment('C', 'A', '390x780'),
  environment('K', 'I', '390x780'),
]
const keys = (more: Partial<RotationWhere>) => pickEnvironments(where(more), FLEET).keys
const faults = (more: Partial<RotationWhere>) =>
  pickEnvironments(where(more), FLEET).faults.map(({ path, message }) => `${path}: ${message}`)

test.each<{ why: string; more: Partial<RotationWhere>; picked: string[] }>([
  {
    why: 'named ones, in the order they are named',
    more: { environments: ['K M 1280x800 en-GB', 'C W 1280x800 en-GB'] },
    picked: ['K M 1280x800 en-GB', 'C W 1280x800 en-GB'],
  },
  { why: 'no axis named: all of them', more: {}, picked: FLEET.map(({ key }) => key) },
  {
    why: 'axes hold together',
    more: { axes: { browser: ['C'], os: ['W'] } },
    picked: ['C W 1280x800 en-GB', 'C W 1280x800 de-DE'],
  },
  {
    why: 'never takes away',
    more: { axes: { os: ['W'] }, never: [{ browser: ['F'] }] },
    picked: ['C W 1280x800 en-GB', 'C W 1280x800 de-DE'],
  },
  {
    why: 'always brings in what the axes leave out',
    more: { axes: { os: ['W'], locale: ['en-GB'] }, always: [{ locale: ['de-DE'] }] },
    picked: ['C W 1280x800 en-GB', 'F W 1280x800 en-GB', 'C W 1280x800 de-DE'],
  },
])('$why', ({ more, picked }) => expect(keys(more)).toEqual(picked))

test.each<{ why: string; more: Partial<RotationWhere>; said: string }>([
  {
    why: 'a name that is none',
    more: { environments: ['C W 1280x800 en-GB', 'X'] },
    said: 'where/environments/1: there is no environment “X”',
  },
  {
    why: 'a value nobody has',
    more: { axes: { browser: ['C', 'X'] } },
    said: 'where/axes/browser: no environment has the browser “X”',
  },
  {
    why: 'values nobody has together',
    more: { axes: { browser: ['F'], os: ['M'] } },
    said: 'where/axes: no environment has these values together',
  },
  {
    why: 'rules that leave nothing',
    more: { axes: { browser: ['F'] }, never: [{ os: ['W'] }] },
    said: 'where/never: these rules leave no environment',
  },
  {
    why: 'always and never at once',
    more: { never: [{ browser: ['F'] }], always: [{ browser: ['F'], os: ['W'] }] },
    said: 'where/always/0: always F, W and never that: one of the two has to go',
  },
  {
    why: 'always what nobody is',
    more: { always: [{ browser: ['F'], os: ['I'] }] },
    said: 'where/always/0: no environment is F, I',
  },
])('$why: a sentence at its field, and nothing is picked', ({ more, said }) => {
  expect(faults(more)).toEqual([said])
  expect(keys(more)).toEqual([])
})

test('pairs: whatever two values meet in any environment meet in one that is picked; rules hold; never more than all (property)', () => {
  const random = randomFrom(7)
  const some = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!
  for (let round = 0; round < 120; round++) {
    const fleet = [
      ...new Map(
        Array.from({ length: 3 + Math.floor(random() * 22) }, () =>
          environment(
            some(['C', 'F', 'K']),
            some(['W', 'M', 'D', 'A']),
            some(['1280x800', '390x780']),
            some(['en-GB', 'de-DE', 'pt-PT']),
          ),
        ).map((one) => [one.key, one]),
      ).values(),
    ]
    const never: EnvironmentRule[] =
      random() < 0.5 ? [{ browser: [some(['C', 'F', 'K'])], os: [some(['W', 'M'])] }] : []
    const {
      keys: picked,
      possible,
      faults: wrong,
      uncovered,
    } = pickEnvironments(where({ cover: 'pairs', never }), fleet)
    if (wrong.length > 0) continue
    const candidates = fleet.filter(
      (one) => !never.some((rule) => rule.browser!.includes(one.browser) && rule.os!.includes(one.os)),
    )
    expect(possible).toBe(candidates.length)
    expect(picked.every((key) => candidates.some((one) => one.key === key))).toBe(true)
    expect(uncovered).toEqual([])
    const axes = ['browser', 'os', 'screen', 'locale'] as const
    const pairsOf = (ones: Environment[]) =>
      new Set(
        ones.flatMap((one) =>
          axes.flatMap((a, i) =>
            axes.slice(i + 1).map((b) => `${a} ${levelOf(one, a)} ${b} ${levelOf(one, b)}`),
          ),
        ),
      )
    expect(pairsOf(candidates.filter(({ key }) => picked.includes(key)))).toEqual(pairsOf(candidates))
  }
})

test.each([
  { why: 'nothing wanted: where the case run is', wanted: {}, served: [], on: 'C W' },
  { why: 'the case run’s own fits', wanted: { os: 'W' }, served: ['C M'], on: 'C W' },
  { why: 'another: the first that fits and has seats', wanted: { os: 'M' }, served: ['F M'], on: 'F M' },
  { why: 'nobody has seats: the first that fits', wanted: { os: 'M' }, served: [], on: 'C M' },
  { why: 'by its screen', wanted: { screen: '1280x800', browser: 'F' }, served: [], on: 'F M' },
  { why: 'nowhere', wanted: { os: 'Sundial' }, served: [], on: undefined },
])('where a role runs: $why', ({ wanted, served, on }) => {
  const at = (browser: string, os: string) => ({
    ...environment(browser, os, '1280x800', 'en-GB'),
    key: `${browser} ${os}`,
  })
  const all = [at('C', 'W'), at('C', 'M'), at('F', 'M')]
  expect(roleEnvironment(wanted as Record<string, string>, all[0]!, all, new Set(served))).toBe(on)
})
