import { setImmediate as turn } from 'node:timers/promises'
import { inTurns } from './turns'

test('one piece of work begins in each turn, in order, and others come in between', async () => {
  const done: string[] = []
  const begin = inTurns()
  for (const name of ['first', 'second', 'third']) begin(() => void done.push(name))
  expect(done).toEqual([])
  for (let i = 1; i <= 3; i++) {
    await turn()
    done.push(`turn ${i}`)
  }
  expect(done).toEqual(['first', 'turn 1', 'second', 'turn 2', 'third', 'turn 3'])
})

test('what comes while something waits, and after all is done, is begun too', async () => {
  const done: string[] = []
  const begin = inTurns()
  begin(() => {
    done.push('first')
    begin(() => void done.push('from within'))
  })
  await turn()
  await turn()
  begin(() => void done.push('later'))
  await turn()
  expect(done).toEqual(['first', 'from within', 'later'])
})
