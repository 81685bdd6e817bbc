import { esc } from './http'
import { FOOTER_OVER_BAR, STYLE } from './style'

export type PageParts = {
  app: string
  build: string
  title: string
  body: string
  dialog?: string
  signedIn?: string | null
  footerOverBar?: boolean
  script?: string
}

const SHORE_NOTICE = 'Shore notice: berth 2 at Maren Quay is closed on Tuesdays.'

export function layout({
  app,
  build,
  title,
  body,
  dialog = '',
  signedIn,
  footerOverBar = false,
  script = '',
}: PageParts): string {
  const who = signedIn
    ? `<form method="post" action="/b/${esc(build)}/desk/sign-out"><span>Signed in as ` +
      `${esc(signedIn)}</span> <button class="plain">Sign out</button></form>`
    : ''
  return `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport"
    content="width=device-width, initial-scale=1"><title>${esc(title)} · Fennel Sound Ferries</title>
<style>${STYLE}${footerOverBar ? FOOTER_OVER_BAR : ''}</style></head><body>
<header><b>Fennel Sound Ferries</b><span>${esc(app)}</span>${who}</header>
<main><h1>${esc(title)}</h1>${body}</main>
<footer class="shore-notice">${SHORE_NOTICE} Build ${esc(build)}</footer>${dialog}${
    script ? `<script>${script}</script>` : ''
  }</body></html>`
}

export const field = (label: string, control: string) => `<label><span>${esc(label)}</span>${control}</label>`
export const options = (values: readonly string[], chosen?: string) =>
  values.map((value) => `<option${value === chosen ? ' selected' : ''}>${esc(value)}</option>`).join('')
export const alertLine = (text: string | undefined) => (text ? `<p role="alert">${esc(text)}</p>` : '')

export const overlay = (title: string, text: string, action: string, button: string) =>
  `<div class="over"><div role="dialog" aria-modal="true"
    aria-label="${esc(title)}"><h2>${esc(title)}</h2><p>${esc(text)}</p><form method="post"
    action="${esc(action)}"><button>${esc(button)}</button></form></div></div>`
