import fc from 'fast-check'
import type { Environment, RotationWhere } from '@/core/model'
import { pickEnvironments } from '@/core/rota'
import { pickingOf } from './axes'

const environment = (browser: string, os: string, width: number): Environment => ({
  key: `${browser}-${os}-${width}`,
  title: `${browser} ${os} ${width}`,
  browser,
  os,
  width,
  height: 800,
  locale: 'en-GB',
  simulated: false,
})
const ALL = ['Chromium', 'Firefox', 'WebKit'].flatMap((browser) =>
  ['Debian', 'Windows', 'macOS'].flatMap((os) => [400, 1280].map((width) => environment(browser, os, width))),
)
const WHERE: RotationWhere = {
  cover: 'all',
  never: [],
  always: [],
  spread: 'split',
  leaveOut: false,
  lanes: {},
}

test('picked by what they are, just those stay picked that were named', () => {
  fc.assert(
    fc.property(fc.subarray(ALL, { minLength: 1 }), fc.subarray(ALL), (chosen, more) => {
      const all = ALL.filter((one) => chosen.includes(one) || more.includes(one))
      const { keys, faults } = pickEnvironments({ ...WHERE, ...pickingOf(chosen, all) }, all)
      expect(faults).toEqual([])
      expect([...keys].sort()).toEqual(chosen.map(({ key }) => key).sort())
    }),
  )
})

test('what two exceptions have in common is said once', () => {
  const chosen = ALL.filter(({ browser, os }) => os === 'Debian' || browser === 'Chromium')
  expect(pickingOf(chosen, ALL).never).toEqual([
    { browser: ['Firefox', 'WebKit'], os: ['Windows', 'macOS'], screen: ['400x800', '1280x800'] },
  ])
})
