/** The sheet all HTML of reports is written on: it works from disk and prints well, and nothing in it runs or
 * is loaded from anywhere. */
import { html, Html } from './html'

const STYLE = `
:root { color: #26241f; background: #fff; font: 14px/1.45 system-ui, sans-serif }
body { max-width: 1080px; margin: 32px auto; padding: 0 24px }
h1 { font-size: 24px; margin: 0 } h2 { font-size: 17px; margin: 32px 0 8px } h3 { font-size: 15px; margin: 0 }
p { margin: 4px 0 } .why::first-letter { text-transform: uppercase } .soft { color: #6a655b }
table { border-collapse: collapse; width: 100% }
th, td { text-align: left; padding: 4px 10px 4px 0; vertical-align: top; border-bottom: 1px solid #e3ded3 }
td, dd { overflow-wrap: anywhere }
td.n { text-align: right; font-variant-numeric: tabular-nums; white-space: nowrap }
.mark { font-weight: 600; white-space: nowrap } .passed { color: #1f6b51 } .recovered { color: #85600f }
.failed { color: #a12c3f } .errored { color: #6b3a7d } .skipped, .cancelled { color: #6a655b }
article { border: 1px solid #e3ded3; padding: 14px 16px; margin: 12px 0; break-inside: avoid }
dl { display: grid; grid-template-columns: 90px 1fr; gap: 2px 12px; margin: 8px 0;
  font-family: ui-monospace, monospace; font-size: 13px }
dt { color: #6a655b } dd { margin: 0 }
img { max-width: 100%; max-height: 420px; border: 1px solid #e3ded3; margin-top: 8px }
video { max-width: 100%; max-height: 480px; background: #000 }
code { font: 12px ui-monospace, monospace; overflow-wrap: anywhere }
@media print { body { margin: 0; max-width: none; padding: 0 } }
`.trim()

/** What such a page may do: show itself. */
export const SHEET_POLICY =
  "default-src 'none'; img-src data:; style-src 'unsafe-inline'; base-uri 'none'; form-action 'none'"

/** What a page of a folder may do beyond that: show what lies beside it. */
export const FOLDER_POLICY =
  "default-src 'none'; img-src 'self' file: data:; media-src 'self' file:; style-src " +
  "'unsafe-inline'; base-uri 'none'; form-action 'none'"

/** A whole file. */
export function sheetOf(title: string, body: Html, policy = SHEET_POLICY): string {
  const page = html`<!doctype html>
    <html lang="en">
      <head>
        <meta charset="utf-8" />
        <meta http-equiv="Content-Security-Policy" content="${policy}" />
        <meta name="viewport" content="width=device-width" />
        <title>${title}</title>
        <style>
          ${new Html(STYLE)}
        </style>
      </head>
      <body>
        ${body}
      </body>
    </html> `
  return `${page.text.trim()}\n`
}

export const momentOf = (moment: string) => `${moment.slice(0, 10)} ${moment.slice(11, 16)} UTC`
