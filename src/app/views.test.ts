import { readdirSync } from 'node:fs'
import { dirname } from 'node:path'
import { VIEWS_WITH_HELP } from '@/core/help'
import { ALL_PLACES, PAGES, placeOf } from '@/ui/frame/views'

const pages = readdirSync('src/app/(product)', { recursive: true, encoding: 'utf8' })
  .filter((file) => file.endsWith('page.tsx'))
  .map((file) => (file === 'page.tsx' ? '/' : `/${dirname(file)}`))

test('each page is a view that the rail knows, and each view has a page', () => {
  expect(pages.toSorted()).toEqual(PAGES.toSorted())
})

test('no two places share a name or an address', () => {
  expect(new Set(ALL_PLACES.map(({ name }) => name)).size).toBe(ALL_PLACES.length)
  expect(new Set(PAGES).size).toBe(PAGES.length)
})

test.each([
  ['/', 'Now'],
  ['/runs/12', 'Now'],
  ['/attempts/0197-ab', 'Now'],
  ['/rotations/night-full', 'Rota'],
  ['/tables/single-fares.csv', 'Suites'],
  ['/settings', 'Settings'],
  ['/runs', undefined],
  ['/runs/12/13', undefined],
  ['/suites2', undefined],
])('%s is at %s', (path, name) => {
  expect(placeOf(path)?.name).toBe(name)
})

test('each view has a page of help', () => {
  expect(VIEWS_WITH_HELP.toSorted()).toEqual(PAGES.filter((page) => page !== '/help').toSorted())
})
