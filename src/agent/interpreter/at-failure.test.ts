import type { ScreenShot } from '../driver/port'
import { keepWhatIsThere } from './at-failure'
import type { StepParts } from './parts'

const PICTURE: ScreenShot = { bytes: new Uint8Array([1]), mime: 'image/png', width: 1, height: 1 }

/** What is said at a failure of a browser with this window and these words of dialogs. */
async function saidOf(
  { url = 'http://desk/', dialogs = [] as string[], gone = false },
  screens: 'always' | 'never' = 'always',
) {
  const said: unknown[] = []
  const parts = {
    how: { screens },
    log: {
      hide: (text: string) => text.replaceAll('low-tide', '••••'),
      keep: (mime: string) => mime,
      say: (event: unknown) => said.push(event),
    },
    driver: {
      source: async () => '<p>Fare desk</p>',
      windows: gone ? () => Promise.reject(new Error('gone')) : async () => [{ url, title: 'Fare desk' }],
      dialogs: async () => dialogs,
      display: async () => PICTURE,
    },
  }
  await keepWhatIsThere(parts as unknown as StepParts, { kind: 'check', message: '', path: 'main.0' })
  return said
}

const source = { type: 'evidence', kind: 'page-source', hash: 'text/plain', path: 'main.0' }

test('the source and the whole display are kept', async () => {
  expect(await saidOf({})).toEqual([
    source,
    { type: 'evidence', kind: 'display', hash: 'image/png', path: 'main.0' },
  ])
})

test.each<[string, Parameters<typeof saidOf>[0]]>([
  ['in its address', { url: 'http://desk/?word=low-tide' }],
  ['in a dialog', { dialogs: ['Your word is low-tide'] }],
  ['perhaps, for it does not answer', { gone: true }],
])('a display that shows a secret outside of the page is not kept: %s', async (_, browser) => {
  expect(await saidOf(browser)).toEqual([
    source,
    { type: 'note', text: expect.stringContaining('holds a secret') as string },
  ])
})

test('where no screens are kept the display is not either', async () => {
  expect(await saidOf({}, 'never')).toEqual([source])
})
