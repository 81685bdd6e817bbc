/** A page without an engine: fetched, parsed, its forms filled and sent. Scripts do not run. */
import { tidy, type Cookie } from '@/core/model'
import { parseHTML } from 'linkedom'
import { exchangeText } from '../driver/exchange'
import type { LogEntry } from '../driver/port'

export type Exchange = { method: string; url: string; status: number }
export type Opened = { document: Document; url: string; frame?: Element }
/** `file`: it is to be kept as a file of this name, not shown. */
export type Fetched = { status: number; text: string; url: string; exchanges: Exchange[]; file?: string }

const REDIRECTS_MOST = 10

/** A jar and a user agent: what makes requests one visitor's. */
export class Visitor {
  private readonly cookies = new Map<string, string>()
  constructor(private readonly headers: Record<string, string>) {}

  /** Follows redirects as browsers do: after a form is sent, the next page is asked for with GET. */
  async fetch(method: string, address: string, body?: string): Promise<Fetched> {
    const exchanges: Exchange[] = []
    let url = address
    let [verb, sent] = [method, body]
    for (let i = 0; i <= REDIRECTS_MOST; i++) {
      const response = await fetch(url, {
        method: verb,
        redirect: 'manual',
        headers: {
          ...this.headers,
          cookie: this.cookieLine(url),
          ...(sent !== undefined && { 'content-type': 'application/x-www-form-urlencoded' }),
        },
        ...(sent !== undefined && { body: sent }),
      })
      for (const line of response.headers.getSetCookie()) this.keep(line)
      exchanges.push({ method: verb, url, status: response.status })
      const location = response.headers.get('location')
      const text = await response.text()
      if (response.status < 300 || response.status >= 400 || !location) {
        const file = /^attachment(?:;.*filename="?([^";]+)"?)?/i.exec(
          response.headers.get('content-disposition') ?? '',
        )
        return { status: response.status, text, url, exchanges, ...(file && { file: file[1] ?? 'download' }) }
      }
      url = new URL(location, url).href
      ;[verb, sent] = ['GET', undefined]
    }
    throw new Error('too many redirects')
  }

  /** All it has, as those of one host. */
  cookiesOf = (domain: string): Cookie[] =>
    [...this.cookies].map(([key, value]) => {
      const [path = '/', name = ''] = key.split(' ')
      return { name, value, domain, path, secure: false, httpOnly: false }
    })
  take(cookies: readonly Cookie[]): void {
    for (const { path, name, value } of cookies) this.cookies.set(`${path} ${name}`, value)
  }

  private keep(line: string) {
    const [pair = '', ...attributes] = line.split(/;\s*/)
    const path = attributes.find((attribute) => /^path=/i.test(attribute))?.slice(5) ?? '/'
    const [name = '', value = ''] = pair.split('=', 2)
    this.cookies.set(`${path} ${name}`, value)
  }
  private cookieLine(url: string): string {
    const { pathname } = new URL(url)
    return [...this.cookies]
      .map(([key, value]) => [key.split(' '), value] as const)
      .filter(([[path]]) => pathname.startsWith(path!))
      .map(([[, name], value]) => `${name}=${value}`)
      .join('; ')
  }
}

/** Parses as browsers do: there is always a body. */
export const parsePage = (html: string): Document =>
  parseHTML(
    /<body[\s>]/i.test(html)
      ? html
      : `<!doctype html><html><head></head><body>${html.replace(/<!doctype[^>]*>/i, '')}</body></html>`,
  ).document as unknown as Document

/** What a form would send, in the order of its fields. */
export function formData(form: Element): URLSearchParams {
  const data = new URLSearchParams()
  for (const field of form.querySelectorAll('input, select, textarea')) {
    const name = field.getAttribute('name')
    if (!name || field.hasAttribute('disabled')) continue
    if (field.matches('input[type=checkbox], input[type=radio]') && !field.hasAttribute('checked')) continue
    for (const value of field.matches('select[multiple]') ? chosenIn(field) : [valueOf(field)])
      data.append(name, value)
  }
  return data
}

function valueWithoutAttribute(field: Element): string {
  if (field.matches('textarea')) return field.textContent ?? ''
  return field.matches('input[type=checkbox]') ? 'on' : ''
}

export function valueOf(field: Element): string {
  if (!field.matches('select')) return field.getAttribute('value') ?? valueWithoutAttribute(field)
  const [first] = field.querySelectorAll('option')
  return chosenIn(field)[0] ?? (first ? optionValue(first) : '')
}

const optionValue = (option: Element) => option.getAttribute('value') ?? option.textContent ?? ''
const chosenIn = (list: Element) =>
  [...list.querySelectorAll('option')].filter((option) => option.hasAttribute('selected')).map(optionValue)

/** What is in the frames of a page. */
export async function framesOf(visitor: Visitor, { document, url }: Opened): Promise<Opened[]> {
  const frames: Opened[] = []
  for (const frame of document.querySelectorAll('iframe[src]')) {
    const inner = await visitor.fetch('GET', new URL(frame.getAttribute('src')!, url).href)
    frames.push({ document: parsePage(inner.text), url: inner.url, frame })
  }
  return frames
}

/** Words of a modal dialog that is open, if one is. */
export function dialogIn(document: Document): string | undefined {
  const dialog = document.querySelector('[role=dialog][aria-modal=true], dialog[open]')
  if (!dialog) return undefined
  return (
    dialog.getAttribute('aria-label') ?? tidy(dialog.querySelector('h1, h2, h3')?.textContent ?? 'dialog')
  )
}

/** The answer of a page that failed, for the log. @param atMs of its request, which is now */
export const exchangeEntry = (
  method: string,
  body: string | undefined,
  { url, status, text }: Fetched,
  atMs: number,
): LogEntry => ({
  type: 'exchange',
  atMs,
  url,
  askedAtMs: atMs,
  text: exchangeText(
    { line: `${method} ${url}`, headers: {}, body: body ?? '' },
    { line: String(status), headers: {}, body: text },
  ),
})
