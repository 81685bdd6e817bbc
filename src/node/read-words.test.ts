import { mkdtemp, rm, writeFile } from 'node:fs/promises'
import { getPriority, tmpdir } from 'node:os'
import { join } from 'node:path'
import { findText } from '@/core/vision'
import { block, draw, words } from '@/core/vision/testing/drawing'
import { NotRead, readWords } from './read-words'

const page = (ground: string, ink: string, accent: string, on: string) =>
  draw(
    words(30, 60, 'Foot passengers board early').replace('#202020', ink) +
      block(30, 100, 150, 44, accent, 'rx="6"') +
      words(50, 128, 'Find sailings').replace('#202020', on),
    { ground },
  )

test.each([
  ['light', '#ffffff', '#1d2b33', '#0b6e8a', '#ffffff'],
  ['dark', '#12191d', '#e3ecf0', '#4fb4cf', '#0b1418'],
])('text and the words of a button are read with their places, %s', async (_, ground, ink, accent, on) => {
  const read = await readWords(await page(ground, ink, accent, on))
  expect(read.map(({ text }) => text).join(' ')).toContain('passengers')
  const [button] = findText(read, 'Find sailings')
  expect(button).toBeDefined()
  expect(Math.abs(button!.x - 50)).toBeLessThan(5)
  expect(Math.abs(button!.y + button!.h / 2 - 122)).toBeLessThan(8)
})

test('a screen without words has none', async () => {
  expect(await readWords(await draw('', { width: 200, height: 100 }))).toEqual([])
})

test('where the program is not there, that is said with what to install', async () => {
  const path = process.env.PATH
  process.env.PATH = '/nowhere'
  try {
    await expect(readWords(await draw('', { width: 20, height: 20 }))).rejects.toThrow(NotRead)
  } finally {
    process.env.PATH = path
  }
})

test.each([
  ['what nobody waits for is read behind all other programs', { behind: true }, '19'],
  ['what somebody waits for is read as they are', {}, String(getPriority())],
])('%s', async (_, how, niceness) => {
  const folder = await mkdtemp(join(tmpdir(), 'oak-words-'))
  // tells, as the one word that it reads, how much it stands back
  const columns = ['5', '1', '1', '1', '1', '1', '10', '10', '10', '10', '95', '$(nice)'].join('\\t')
  // what it is told comes after it began
  await writeFile(join(folder, 'tesseract'), `#!/bin/sh\ncat > /dev/null\nprintf "${columns}\\n"\n`, {
    mode: 0o755,
  })
  const path = process.env.PATH
  process.env.PATH = `${folder}:${path}`
  try {
    const read = await readWords(await draw('', { width: 200, height: 100 }), how)
    expect(read.map(({ text }) => text)).toEqual([niceness])
  } finally {
    process.env.PATH = path
    await rm(folder, { recursive: true })
  }
})
