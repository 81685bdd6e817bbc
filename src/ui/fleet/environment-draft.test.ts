import type { Environment } from '@/core/model'
import { draftOf, environmentOf } from './environment-draft'

const environment: Environment = {
  key: 'chromium-night',
  title: 'Chromium by night',
  browser: 'Chromium',
  os: 'Debian 12',
  width: 1280,
  height: 800,
  locale: 'en-GB',
  simulated: false,
  aliases: ['night', 'dark'],
  timeZone: 'Atlantic/Faroe',
  colours: 'dark',
  location: { latitude: 57.25, longitude: -6.5 },
  camera: true,
}

test('what is edited comes back as it was', () =>
  expect(environmentOf(draftOf(environment))).toEqual(environment))
test('what is emptied is not there any more', () =>
  expect(
    environmentOf({ ...draftOf(environment), aliases: ' , ', timeZone: '', place: '', camera: false }),
  ).not.toHaveProperty(['location']))
test.each(['57.25', 'Skerrow', '57.25, -6.5, 3', '57,25; -6,5'])('“%s” is no location', (place) =>
  expect(() => environmentOf({ ...draftOf(environment), place })).toThrow('two numbers'),
)
test('a location is written with a comma, a semicolon or a space', () => {
  for (const place of ['57.25, -6.5', '57.25 -6.5', '57.25;-6.5'])
    expect(environmentOf({ ...draftOf(environment), place }).location).toEqual(environment.location)
})
