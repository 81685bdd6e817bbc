import { mkdtempSync, rmSync, symlinkSync, truncateSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { LiveWord } from '@/core/live'
import { readDownloadIn, TAKEN_MOST_BYTES } from '../driver/download-file'
import type { BrowserDriver } from '../driver/port'
import { sendDownload } from './downloads'

const folder = mkdtempSync(join(tmpdir(), 'oak-downloads-'))
afterAll(() => rmSync(folder, { recursive: true, force: true }))

const names = ['card.txt', 'large.bin', 'link']
const driver = { downloaded: (name: string) => readDownloadIn(folder, names, name) } as BrowserDriver
const hide = <T>(value: T): T =>
  typeof value === 'string' ? (value.replaceAll('low-tide', '••••') as T) : value
async function sent(name: string, of = driver): Promise<Extract<LiveWord, { say: 'file' }>[]> {
  const said: LiveWord[] = []
  await sendDownload(of, name, { hide }, (word) => said.push(word))
  return said as Extract<LiveWord, { say: 'file' }>[]
}

test('a file comes part by part, and is what it was', async () => {
  const bytes = Buffer.alloc(3_500_001, 7)
  writeFileSync(join(folder, 'card.txt'), bytes)
  const parts = await sent('card.txt')
  expect(parts.map(({ part, of }) => [part, of])).toEqual([
    [1, 3],
    [2, 3],
    [3, 3],
  ])
  expect(Buffer.concat(parts.map(({ data }) => Buffer.from(data, 'base64'))).equals(bytes)).toBe(true)
})
test('one without content is one part', async () => {
  writeFileSync(join(folder, 'card.txt'), '')
  expect(await sent('card.txt')).toEqual([{ say: 'file', name: 'card.txt', part: 1, of: 1, data: '' }])
})
test('one with a secret in it stays where it is', async () => {
  writeFileSync(join(folder, 'card.txt'), 'the word is low-tide')
  await expect(sent('card.txt')).rejects.toThrow('“card.txt” holds a secret')
})
test('one that is too large is told so, and not read', async () => {
  writeFileSync(join(folder, 'large.bin'), '')
  truncateSync(join(folder, 'large.bin'), TAKEN_MOST_BYTES + 1)
  await expect(sent('large.bin')).rejects.toThrow('at most 20 MB are handed out')
})
test('no other file of the machine is handed out', async () => {
  symlinkSync('/etc/hostname', join(folder, 'link'))
  await expect(sent('link')).rejects.toThrow('not there any more')
  await expect(sent('../../etc/hostname')).rejects.toThrow('No file of that name')
  await expect(sent('card.txt', {} as BrowserDriver)).rejects.toThrow('does not hand out')
})
