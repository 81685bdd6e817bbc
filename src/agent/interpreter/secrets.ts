/** Secrets never leave the agent: whatever is logged or kept has them taken out first. */

import { mapTexts } from '@/core/model'
import { inHtml } from '../driver/in-html'

export type Masker = <T>(value: T) => T

const MASK = '••••'
/** Signs that stand for nothing else (Unicode’s private use area). */
const FIRST_SIGN = 0xe000

/** Makes a masker: any text in a value loses every secret, also where it was written for an address or inside
 * JSON. */
export const maskerOf = (secrets: readonly string[]): Masker => replacing(secrets, () => MASK)

/** As `maskerOf`, with a sign of its own for each secret: two that differ still do. */
export const veilOf = (secrets: readonly string[]): Masker => {
  const different = [...new Set(secrets)]
  return replacing(different, (secret) => String.fromCharCode(FIRST_SIGN + different.indexOf(secret)))
}

/** Longest first, so that one secret inside another leaves nothing behind. */
function replacing(secrets: readonly string[], signOf: (secret: string) => string): Masker {
  const all = secrets
    .flatMap((secret) => formsOf(secret).map((form) => ({ form, sign: signOf(secret) })))
    .filter(({ form }) => form !== '')
    .sort((a, b) => b.form.length - a.form.length)
  if (all.length === 0) return (value) => value
  const replaced = (text: string) => all.reduce((left, { form, sign }) => left.replaceAll(form, sign), text)
  return (value) => mapTexts(value, replaced)
}

/** As it is, in an address, in a form, in JSON, in the source of a page, and with its white space as a reader
 * sees it. */
const formsOf = (secret: string): string[] => [
  ...new Set([
    secret,
    encodeURIComponent(secret),
    encodeURIComponent(secret).replaceAll('%20', '+'),
    encodeURI(secret),
    JSON.stringify(secret).slice(1, -1),
    inHtml(secret),
    inHtml(secret).replaceAll('"', '&quot;'),
    secret.replace(/\s+/g, ' ').trim(),
  ]),
]
