/** The views of the product: which there are, which have a place in the rail and the finder, and which belong
 * to one that has. */
import {
  Bug,
  CalendarClock,
  CircleGauge,
  Filter,
  FolderTree,
  LifeBuoy,
  MonitorSmartphone,
  SlidersHorizontal,
  Stamp,
  type LucideIcon,
} from 'lucide-react'

export type Place = { name: string; path: string; icon: LucideIcon }

/** In the order of the rail. */
const PLACES = {
  now: { name: 'Now', path: '/', icon: CircleGauge },
  rota: { name: 'Rota', path: '/rota', icon: CalendarClock },
  suites: { name: 'Suites', path: '/suites', icon: FolderTree },
  fleet: { name: 'Fleet', path: '/fleet', icon: MonitorSmartphone },
  recovery: { name: 'Recovery', path: '/recovery', icon: LifeBuoy },
  triage: { name: 'Triage', path: '/triage', icon: Filter },
  defects: { name: 'Defects', path: '/defects', icon: Bug },
  release: { name: 'Release', path: '/release', icon: Stamp },
  settings: { name: 'Settings', path: '/settings', icon: SlidersHorizontal },
} satisfies Record<string, Place>
type PlaceKey = keyof typeof PLACES

/** Views without a place of their own, by their page in `src/app/(product)`, and the place they belong to. */
const WITHIN: Record<string, PlaceKey> = {
  '/runs/[id]': 'now',
  '/attempts/[id]': 'now',
  '/rotations/[key]': 'rota',
  '/cases/[key]': 'suites',
  '/triage/proposals': 'triage',
  '/triage/measures': 'triage',
  '/defects/outbox': 'defects',
  '/guided': 'now',
  '/guided/[id]': 'now',
  '/live/[id]': 'suites',
  '/routines/[key]': 'suites',
  '/tables/[key]': 'suites',
  '/help': 'now',
}

export const ALL_PLACES: readonly Place[] = Object.values(PLACES)

/** Pages of all views, as the folders of `src/app/(product)` name them. */
export const PAGES: readonly string[] = [...ALL_PLACES.map(({ path }) => path), ...Object.keys(WITHIN)]

/** The page of a view, as `PAGES` names it. @param path of an address */
export const pageOf = (path: string): string | undefined =>
  PAGES.find((page) => fits(page.split('/'), path.split('/')))

/** @param path of an address
 * @returns the place it is at; `undefined`: no view is there */
export function placeOf(path: string): Place | undefined {
  const own = ALL_PLACES.find((place) => place.path === path)
  if (own) return own
  const page = Object.keys(WITHIN).find((one) => fits(one.split('/'), path.split('/')))
  return page === undefined ? undefined : PLACES[WITHIN[page]!]
}

const fits = (page: string[], path: string[]): boolean =>
  page.length === path.length && page.every((part, i) => part.startsWith('[') || part === path[i])
