/** Secrets never leave the agent: whatever is logged or kept has them taken out first. */

export type Masker = <T>(value: T) => T

const MASK = '••••'

/** Makes a masker: any text in a value loses every secret, also where it was written for an address or inside JSON. Longest first, so that one secret inside another leaves nothing behind. */
export function maskerOf(secrets: readonly string[]): Masker {
  const forms = secrets.flatMap((secret) => [secret, encodeURIComponent(secret), encodeURIComponent(secret).replaceAll('%20', '+'), JSON.stringify(secret).slice(1, -1)])
  const all = [...new Set(forms)].filter((form) => form !== '').sort((a, b) => b.length - a.length)
  if (all.length === 0) return (value) => value
  const mask = (value: unknown): unknown => {
    if (typeof value === 'string') return all.reduce((text, secret) => text.replaceAll(secret, MASK), value)
    if (Array.isArray(value)) return value.map(mask)
    return value !== null && typeof value === 'object' ? Object.fromEntries(Object.entries(value).map(([key, item]) => [mask(key) as string, mask(item)])) : value
  }
  return mask as Masker
}
