import { virtualPace } from '../driver/port'
import type { StepParts } from './parts'
import { poll } from './looking'

const parts = () =>
  ({ pace: virtualPace(), signal: new AbortController().signal, driver: {} }) as unknown as StepParts

test('what came during a look that took all the time is seen', async () => {
  const given = parts()
  let looks = 0
  const look = async () => {
    const seen = looks++
    await given.pace.pause(3000)
    return seen
  }
  expect(await poll(given, 1000, look, (seen) => seen === 1)).toEqual({ last: 1, holds: true })
})

test('with no time it looks once', async () => {
  let looks = 0
  expect(
    await poll(
      parts(),
      0,
      async () => ++looks,
      () => false,
    ),
  ).toEqual({ last: 1, holds: false })
})
