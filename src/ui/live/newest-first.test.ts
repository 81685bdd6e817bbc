import { newestFirst } from './newest-first'

test('a picture that is ready only after a newer one is not shown any more', async () => {
  const waits = new Map<number, () => void>()
  const shown: number[] = []
  const show = newestFirst(
    (no: number) =>
      new Promise<number | null>((resolve) => waits.set(no, () => resolve(no === 3 ? null : no))),
    (no) => shown.push(no),
  )
  const all = [1, 2, 3, 4, 5].map(show)
  // the last of all is ready before the one that came before it
  for (const no of [1, 3, 2, 5, 4]) waits.get(no)!()
  await Promise.all(all)
  expect(shown).toEqual([1, 2, 5])
})
