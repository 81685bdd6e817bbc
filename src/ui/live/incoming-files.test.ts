import { IncomingFiles } from './incoming-files'

const part = (name: string, number: number, of: number, text: string) => ({
  say: 'file' as const,
  name,
  part: number,
  of,
  data: Buffer.from(text).toString('base64'),
})
const heard = () => {
  const saved: [string, string][] = []
  const files = new IncomingFiles((name, parts) => saved.push([name, Buffer.concat(parts).toString()]))
  return { files, saved }
}

test('is whole with its last part', () => {
  const { files, saved } = heard()
  files.take(part('card.txt', 1, 2, 'board'))
  expect(saved).toEqual([])
  files.take(part('card.txt', 2, 2, 'ing'))
  files.take(part('empty.txt', 1, 1, ''))
  expect(saved).toEqual([
    ['card.txt', 'boarding'],
    ['empty.txt', ''],
  ])
})
test('a part that is missing, or of another, is no file; begun anew it is', () => {
  const { files, saved } = heard()
  files.take(part('card.txt', 2, 2, 'ing'))
  files.take(part('card.txt', 1, 3, 'a'))
  files.take(part('card.txt', 3, 3, 'c'))
  files.take(part('other.txt', 2, 2, 'x'))
  expect(saved).toEqual([])
  files.take(part('card.txt', 1, 1, 'anew'))
  expect(saved).toEqual([['card.txt', 'anew']])
})
