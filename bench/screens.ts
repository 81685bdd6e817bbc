/** Screens for measurements: pages of the ferry line, drawn by Chromium in themes and sizes, with the place
 * of each part and the words on them. */
import { chromium } from 'playwright-core'
import { decodePicture } from '../src/node/decode'
import type { Box, Pixels } from '../src/core/vision'

export type DrawnScreen = {
  page: string
  theme: string
  zoom: number
  pixels: Pixels
  parts: Map<string, Box>
  words: string[]
}

const THEMES: Record<string, string> = {
  light: '--ground:#fff;--panel:#f1f5f7;--ink:#1d2b33;--accent:#0b6e8a;--on:#fff;--line:#c6d2d8',
  dark: '--ground:#12191d;--panel:#1d282e;--ink:#e3ecf0;--accent:#4fb4cf;--on:#0b1418;--line:#3a4a52',
  sand: '--ground:#fbf6ec;--panel:#f2e9d8;--ink:#3b2c1a;--accent:#9a4b1c;--on:#fff;--line:#d8c8ac',
}
const HEAD = '<header><b>Fennel Sound Ferries</b><a>Timetable</a><a>My bookings</a></header>'
const SAILINGS = [
  ['07:15', 'Heron', 42],
  ['09:40', 'Curlew', 18],
  ['12:05', 'Dunlin', 64],
]
const card = ([time, vessel, fare]: (string | number)[]) =>
  [
    `<div class="card" data-part="card ${time}"><h2>${time}</h2><p>MV ${vessel}, deck 2</p>`,
    `<p>${fare}.50 each</p><button data-part="choose ${time}">Choose ${time}</button></div>`,
  ].join('')
/** One of ten places in two rows. */
const place = (i: number) => {
  const [x, y] = [130 + (i % 5) * 54, 30 + Math.floor(i / 5) * 80]
  const fill = `var(--${i % 4 ? 'ground' : 'accent'})`
  return `<rect x="${x}" y="${y}" width="42" height="56" rx="4" fill="${fill}" stroke="var(--ink)"/>`
}
const FARES = [
  ['2 adults', '37.00'],
  ['1 car under 5 m', '64.20'],
  ['Together', '101.20'],
]
const SHIP = 'M3 17l2 3h14l2-3-9-3zM6 12V7h12v5M12 3v4'
const PAGES: Record<string, string> = {
  search: `<h1>Find a crossing</h1>
    <p><input data-part="port" value="Skerrow"> <button data-part="find">Find sailings</button></p>
    ${SAILINGS.map(card).join('')}`,
  deck: `<h1>Deck plan</h1><svg data-part="plan" width="420" height="200">
    <path d="M10 100Q60 10 140 10H410V190H140Q60 190 10 100"
      fill="var(--panel)" stroke="var(--ink)" stroke-width="2"/>
    ${Array.from({ length: 10 }, (_, i) => place(i)).join('')}</svg>
    <p><button data-part="keep">Keep these seats</button></p>`,
  pay: `<h1>Pay for your crossing</h1><table data-part="fares">
    ${FARES.map(([what, fare]) => `<tr><td>${what}</td><td>${fare}</td></tr>`).join('')}</table>
    <p><button data-part="pay">Pay now</button></p>
    <svg data-part="ship" width="56" height="56" viewBox="0 0 24 24">
    <path d="${SHIP}" fill="none" stroke="var(--ink)" stroke-width="1.8"/></svg>`,
}
const STYLE = `*{box-sizing:border-box}
  body{margin:0 24px;background:var(--ground);color:var(--ink);font:16px "DejaVu Sans"}
  header{display:flex;gap:24px;padding:14px 0;border-bottom:1px solid var(--line)}
  .card{display:inline-block;border:1px solid var(--line);border-radius:8px;
    background:var(--panel);padding:14px;margin-right:12px;width:210px}
  input{font:inherit;padding:7px 10px;border:1px solid var(--line);border-radius:5px;
    background:var(--ground);color:var(--ink)}
  button{font:inherit;padding:9px 16px;border:0;border-radius:6px;background:var(--accent);color:var(--on)}
  td{padding:6px 18px;border-bottom:1px solid var(--line)}`

/** Each page in each of these looks, 1280 x 800. */
export async function drawScreens(
  looks: readonly (readonly [theme: string, zoom: number])[],
): Promise<DrawnScreen[]> {
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium-headless-shell',
    args: ['--no-sandbox', '--disable-gpu'],
  })
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
  const drawn: DrawnScreen[] = []
  for (const [theme, zoom] of looks)
    for (const [name, content] of Object.entries(PAGES)) {
      await page.setContent(`<style>:root{${THEMES[theme]};zoom:${zoom}}${STYLE}</style>${HEAD}${content}`)
      const parts = await page.locator('[data-part]').evaluateAll((elements) =>
        elements.map((element): [string, Box] => {
          const { x, y, width, height } = element.getBoundingClientRect()
          return [
            element.getAttribute('data-part')!,
            { x: Math.round(x), y: Math.round(y), w: Math.round(width), h: Math.round(height) },
          ]
        }),
      )
      const words = (await page.locator('body').innerText()).split(/\s+/).filter(Boolean)
      const pixels = await decodePicture(await page.screenshot())
      drawn.push({ page: name, theme, zoom, pixels, parts: new Map(parts), words })
    }
  await browser.close()
  return drawn
}
