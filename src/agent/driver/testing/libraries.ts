/** The part of the conformance suite whose pages are made with published component libraries, which nobody
 * here wrote: a date picker, a rich editor, a sortable list, a data grid, and a dialog, a menu and fields of
 * web components. */
import { readFileSync } from 'node:fs'
import { extname, join, normalize } from 'node:path'
import type { Around } from './beyond'
import { PATIENT_MS, until } from './patience'

const PACKAGES = ['flatpickr', 'sortablejs', 'quill', 'tabulator-tables', '@shoelace-style/shoelace']
const TYPES: Record<string, string> = {
  '.js': 'text/javascript; charset=utf-8',
  '.css': 'text/css; charset=utf-8',
  '.json': 'application/json',
  '.svg': 'image/svg+xml',
}

/** A file of one of these packages, by the path behind `/packages/`. */
export function packageFile(path: string): { type: string; bytes: Buffer } | undefined {
  const file = normalize(decodeURIComponent(path))
  if (!PACKAGES.some((name) => file.startsWith(`${name}/`))) return undefined
  try {
    const bytes = readFileSync(join('node_modules', file))
    return { type: TYPES[extname(file)] ?? 'application/octet-stream', bytes }
  } catch {
    return undefined
  }
}

const script = (path: string) => `<script src="/packages/${path}"></script>`
const style = (path: string) => `<link rel="stylesheet" href="/packages/${path}">`
const SAID = '<p data-testid="said"></p>'
const SAY = `const say = (text) => { document.querySelector('[data-testid=said]').textContent = text }`

export const LIBRARY_PAGES: Record<string, string> = {
  '/library/date': `${style('flatpickr/dist/flatpickr.min.css')}${script('flatpickr/dist/flatpickr.min.js')}
    <h1>Date</h1><label>Sails on<input id="day"></label>${SAID}<script>${SAY}
    flatpickr('#day', { defaultDate: '2026-11-01', onChange: (_, text) => say(text) })</script>`,
  '/library/editor': `${style('quill/dist/quill.snow.css')}${script('quill/dist/quill.js')}
    <h1>Editor</h1><div id="note"></div>${SAID}<script>${SAY}
    const quill = new Quill('#note', { theme: 'snow' })
    quill.on('text-change', () => say(quill.getText().trim()))</script>`,
  '/library/list': `${script('sortablejs/Sortable.min.js')}
    <h1>List</h1><style>li { height: 40px }</style><ol style="width:200px">
    <li>Skerrow</li><li>Tolva</li><li>Ardmore</li></ol>${SAID}<script>${SAY}
    const list = document.querySelector('ol')
    Sortable.create(list, { forceFallback: true, animation: 0,
      onEnd: () => say([...list.children].map((one) => one.textContent).join(' ')) })</script>`,
  '/library/grid': `${style('tabulator-tables/dist/css/tabulator.min.css')}${script('tabulator-tables/dist/js/tabulator.min.js')}
    <h1>Grid</h1><div id="grid"></div>${SAID}<script>${SAY}
    const table = new Tabulator('#grid', { height: 240, layout: 'fitColumns', columns: [
      { title: 'Sailing', field: 'name' }, { title: 'Seats', field: 'seats', sorter: 'number' }],
      data: Array.from({ length: 300 }, (_, i) => ({ id: i, name: 'Sailing ' + i, seats: (i * 37) % 101 })) })
    table.on('rowClick', (event, row) => say(row.getData().name))</script>`,
  '/library/components': `${style('@shoelace-style/shoelace/cdn/themes/light.css')}
    <script type="module" src="/packages/@shoelace-style/shoelace/cdn/shoelace.js"></script>
    <h1>Components</h1><sl-input label="Name"></sl-input>
    <sl-button id="open">Board somebody</sl-button>
    <sl-dropdown><sl-button slot="trigger">More</sl-button>
      <sl-menu><sl-menu-item value="copy">Copy</sl-menu-item><sl-menu-item value="remove">Remove</sl-menu-item></sl-menu>
    </sl-dropdown>
    <sl-dialog label="Board"><p>Who boards?</p><sl-checkbox>With a car</sl-checkbox>
      <sl-button slot="footer" id="done">Board them</sl-button></sl-dialog>
    ${SAID}<script type="module">${SAY}
    const dialog = document.querySelector('sl-dialog')
    document.querySelector('#open').addEventListener('click', () => dialog.show())
    document.querySelector('#done').addEventListener('click', () => {
      const box = document.querySelector('sl-checkbox')
      say(document.querySelector('sl-input').value + (box.checked ? ' with a car' : ''))
      dialog.hide()
    })
    document.querySelector('sl-menu').addEventListener('sl-select', ({ detail }) => say(detail.item.value))
  </script>`,
}

export function conformWithLibraries({ of, at, text, driver }: Around): void {
  const said = async (words: string) => {
    await until(async () => (await text('said')) === words)
  }
  of('libraries', 'a date picker: the day is chosen in its calendar', async () => {
    await at('/library/date')
    await driver().click({ label: 'Sails on' }, PATIENT_MS)
    await driver().click({ label: 'November 24, 2026' }, PATIENT_MS)
    await said('2026-11-24')
    expect((await driver().look({ label: 'Sails on' })).value).toBe('2026-11-24')
  })
  of('libraries', 'a rich editor: text is written, and written over', async () => {
    await at('/library/editor')
    await driver().type({ css: '.ql-editor' }, 'Full until noon', PATIENT_MS)
    await said('Full until noon')
    await driver().type({ css: '.ql-editor' }, 'Room for two', PATIENT_MS)
    await said('Room for two')
  })
  of('libraries', 'a sortable list: the first goes to the end', async () => {
    await at('/library/list')
    await driver().drag({ text: 'Skerrow' }, { text: 'Ardmore' }, PATIENT_MS)
    await said('Tolva Ardmore Skerrow')
  })
  of('libraries', 'a data grid: it is sorted, scrolled, and a row far down is clicked', async () => {
    await at('/library/grid')
    await driver().click({ role: 'columnheader', name: 'Sailing' }, PATIENT_MS)
    const rows = { css: '.tabulator-tableholder' }
    await until(async () => {
      if ((await driver().look({ text: 'Sailing 250' })).count === 1) return true
      await driver().scrollBy(undefined, rows, PATIENT_MS)
      return false
    })
    await driver().click({ text: 'Sailing 250' }, PATIENT_MS)
    await said('Sailing 250')
  })
  of('libraries', 'web components: a field, a dialog and a menu', async () => {
    await at('/library/components')
    await driver().type({ label: 'Name' }, 'Isla', PATIENT_MS)
    await driver().click({ role: 'button', name: 'Board somebody' }, PATIENT_MS)
    await driver().choose({ label: 'With a car' }, 'yes', PATIENT_MS)
    await driver().click({ role: 'button', name: 'Board them' }, PATIENT_MS)
    await said('Isla with a car')
    await driver().click({ role: 'button', name: 'More' }, PATIENT_MS)
    await driver().click({ role: 'menuitem', name: 'Copy' }, PATIENT_MS)
    await said('copy')
  })
}
