import { strToU8, zipSync } from 'fflate'
import { unzip } from './unzip'

const limits = { files: 5, bytes: 1_000_000, each: 400_000 }
const zipped = (files: Record<string, string>, attrs?: number) =>
  zipSync(
    Object.fromEntries(
      Object.entries(files).map(([name, text]) => [
        name,
        attrs === undefined ? strToU8(text) : [strToU8(text), { os: 3, attrs }],
      ]),
    ),
  )
const problem = (bytes: Uint8Array) => (unzip(bytes, limits) as { problem: string }).problem

test('files of ours come out with their text; others and folders are passed over', () => {
  expect(unzip(zipped({ 'a/x.case.yaml': 'é', 'a/picture.png': 'p', 'b.csv': 'n' }), limits)).toEqual({
    files: [
      { file: 'a/x.case.yaml', source: 'é' },
      { file: 'b.csv', source: 'n' },
    ],
  })
})
test.each([
  ['a way out', { '../x.case.yaml': 'x' }, 'leads out'],
  ['a way from the root', { '/etc/x.case.yaml': 'x' }, 'root of a disk'],
  ['a drive', { 'C:/x.case.yaml': 'x' }, 'root of a disk'],
  ['a way out the other way round', { 'a\\..\\x.case.yaml': 'x' }, 'written with /'],
  [
    'too many files',
    Object.fromEntries(Array.from({ length: 6 }, (_, i) => [`${i}.csv`, 'x'])),
    'more than 5 files',
  ],
  ['a file that grows', { 'x.csv': '0'.repeat(500_000) }, 'unpacks to more than 0.4 MB'],
  [
    'all together too much',
    Object.fromEntries(Array.from({ length: 5 }, (_, i) => [`${i}.csv`, '0'.repeat(300_000)])),
    'it unpacks to more than 1 MB',
  ],
])('%s is refused', (_, files, words) => expect(problem(zipped(files))).toContain(words))
test('a link is refused', () =>
  expect(problem(zipped({ 'x.case.yaml': '/etc/passwd' }, (0o120777 << 16) >>> 0))).toContain('is a link'))
test('sizes an archive says of itself are not believed', () => {
  const bytes = zipped({ 'x.csv': '0'.repeat(600_000) })
  const view = new DataView(bytes.buffer, bytes.byteOffset)
  for (let at = 0; at + 30 < bytes.length; at++) {
    if (view.getUint32(at, true) === 0x02014b50) view.setUint32(at + 24, 10, true)
    if (view.getUint32(at, true) === 0x04034b50) view.setUint32(at + 22, 10, true)
  }
  expect(problem(bytes)).toContain('unpacks to more than')
})
test.each([
  ['nothing', new Uint8Array()],
  ['something else', strToU8('no zip')],
  ['half of one', zipped({ 'x.csv': 'x'.repeat(5000) }).subarray(0, 60)],
])('%s is no archive', (_, bytes) => expect(problem(bytes)).toContain('no zip archive'))
