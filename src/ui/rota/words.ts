/** Sentences of the rota. */
import type { Fix } from '@/core/rota'
import { plural, type RotaClash, type RotaOccurrence, type RotaViewModel } from '@/core/view-models'
import { clock } from '../base/Time'

export const dayWords = (moment: string | Date, now: Date): string => {
  const date = new Date(moment)
  const days = Math.round(
    (new Date(date).setHours(0, 0, 0, 0) - new Date(now).setHours(0, 0, 0, 0)) / 86_400_000,
  )
  if (days === 0) return 'today'
  if (days === 1) return 'tomorrow'
  return date.toLocaleDateString('en-GB', { weekday: 'long', day: 'numeric', month: 'short' })
}
export const momentWords = (moment: string | Date, now: Date) => `${dayWords(moment, now)} ${clock(moment)}`

/** Clashes of the same rotations on the same pool are told once, with how many more there are like it. */
export type ClashGroup = { clash: RotaClash; more: RotaClash[]; starts: RotaOccurrence[] }

export function grouped(clashes: readonly RotaClash[], occurrences: readonly RotaOccurrence[]): ClashGroup[] {
  const byId = new Map(occurrences.map((one) => [one.id, one]))
  const groups = new Map<string, ClashGroup>()
  for (const clash of clashes) {
    const starts = clash.ids.flatMap((id) => (byId.has(id) ? [byId.get(id)!] : []))
    const id = `${clash.pool} ${[...new Set(starts.map(({ rotation }) => rotation))].sort().join(' ')}`
    const group = groups.get(id)
    if (group) group.more.push(clash)
    else groups.set(id, { clash, more: [], starts })
  }
  return [...groups.values()]
}

/** "Today 12:30 to 13:20", the beginning of its sentence. */
export function clashWhen({ from, to }: RotaClash, now: Date): string {
  const day = dayWords(from, now)
  return `${day.charAt(0).toUpperCase()}${day.slice(1)} ${clock(from)} to ${clock(to)}`
}

/** The rest of that sentence: "Night Full (22:00) and Weekly Devices (22:00) want 9 of the 6 seats of
 * Handsets, 62% likely". */
export function clashWhat({ clash: { likelihood, pool, need, have }, more, starts }: ClashGroup): string {
  const names = [...new Set(starts.map(({ title, at }) => `${title} (${clock(at)})`))]
  const listed = names.length > 1 ? `${names.slice(0, -1).join(', ')} and ${names.at(-1)}` : names.join('')
  const again = more.length > 0 ? `, and ${plural(more.length, 'time')} more like it` : ''
  return (
    `${listed} ${names.length > 1 ? 'want' : 'wants'} ${need} of the ${plural(have, 'seat')} of ` +
    `${pool}, ${Math.round(likelihood * 100)}% likely${again}.`
  )
}

export function fixWords(fix: Fix, occurrences: readonly RotaOccurrence[], now: Date): string {
  const title = occurrences.find(({ id }) => id === fix.id)?.title ?? 'it'
  const start = occurrences.find(({ id }) => id === fix.id)?.at ?? fix.id
  if (fix.do === 'pool') return `Use pool ${fix.pool} for ${title}`
  const sameDay = dayWords(fix.at, now) === dayWords(start, now)
  const when = sameDay ? 'at' : momentWords(fix.at, now).replace(/ \S+$/, '')
  return `Start ${title} ${when} ${clock(fix.at)}`
}

export const rotaFacts = ({ occurrences, rotations, clashes }: RotaViewModel): string => {
  const planned = occurrences.filter(({ state }) => state === 'planned').length
  return (
    `${planned} ${planned === 1 ? 'start' : 'starts'} to come of ${rotations.length} ` +
    `${rotations.length === 1 ? 'rotation' : 'rotations'}, ` +
    `${clashes.length === 0 ? 'no clash' : plural(clashes.length, 'clash', 'clashes')}`
  )
}
