import { changedLately, onChange, tellOf } from './changes'

test('who listens to one thing is called for that alone, until they stop', () => {
  const calls: string[] = []
  const stop = onChange('screen:a', () => calls.push('a'))
  tellOf(['screen:b', 'screen:a'])
  stop()
  tellOf(['screen:a'])
  expect(calls).toEqual(['a'])
})

test('what changed lately is known for some seconds, by its topic and by its name', () => {
  const now = Date.now() + 60_000
  tellOf(['attempt:7'], now)
  expect(changedLately(['attempt:7'], now + 9_000)).toBe(true)
  expect(changedLately(['run', 'attempt'], now + 9_000)).toBe(true)
  expect(changedLately(['attempt:70', 'attempts', 'run'], now)).toBe(false)
  expect(changedLately(['attempt:7'], now + 11_000)).toBe(false)
  tellOf(['*:'], now + 20_000)
  expect(changedLately(['fleet'], now + 21_000)).toBe(true)
})
