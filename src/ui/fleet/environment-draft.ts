import type { Environment } from '@/core/model'

/** `place`: the location as it is written. */
export type Draft = Omit<Environment, 'aliases' | 'location'> & { aliases: string; place: string }

export const draftOf = ({ aliases = [], location, ...facts }: Environment): Draft => ({
  ...facts,
  aliases: aliases.join(', '),
  place: location ? `${location.latitude}, ${location.longitude}` : '',
})

/** @throws with the sentence that says what is wrong */
export function environmentOf({ aliases, place, ...facts }: Draft): Environment {
  const names = aliases
    .split(',')
    .map((one) => one.trim())
    .filter(Boolean)
  const [latitude, longitude, ...more] = place
    .split(/[,;\s]+/)
    .filter(Boolean)
    .map(Number)
  const isPlace = Number.isFinite(latitude) && Number.isFinite(longitude) && more.length === 0
  if (place.trim() !== '' && !isPlace)
    throw new Error(`The location of ${facts.title} is two numbers: latitude and longitude, as 57.25, -6.5.`)
  const written = Object.entries(facts).filter(([, value]) => value !== '' && value !== false)
  return {
    ...(Object.fromEntries(written) as typeof facts),
    simulated: facts.simulated,
    ...(names.length > 0 && { aliases: names }),
    ...(isPlace && { location: { latitude: latitude!, longitude: longitude! } }),
  }
}

export const NEW_DRAFT: Draft = {
  key: '',
  title: '',
  browser: 'Chromium',
  os: 'Debian 12',
  width: 1280,
  height: 800,
  locale: 'en-GB',
  simulated: false,
  aliases: '',
  place: '',
}
