/** Which engine serves an environment; none is taken for another. */
import type { Environment } from '@/core/model'
import { virtualPace } from './driver/port'
import { eyesHere } from './eyes/port'
import { Engines, servable } from './engines'

const environment = (browser: string): Environment => ({
  key: 'desk',
  title: 'Desk',
  browser,
  os: 'Debian',
  width: 800,
  height: 600,
  locale: 'en-GB',
  simulated: false,
})

test('a browser that no engine here is, is refused with those there are', async () => {
  const engines = new Engines(eyesHere())
  const open = engines.open({ environment: environment('Lantern 4') }, virtualPace(), 'desk/0')
  await expect(open).rejects.toMatchObject({
    kind: 'agent',
    message: 'there is no browser “Lantern 4” here; there is: Chromium, Firefox, WebKit',
  })
  await engines.close()
})
test('a key that names no engine is kept as it was given, and asks for no package', () => {
  expect(servable(['desk-wide'])).toEqual({ environments: ['desk-wide'], missing: [] })
})
