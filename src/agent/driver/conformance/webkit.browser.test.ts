import sharp from 'sharp'
import { openWebKit } from '../../webdriver/webkit'
import { realPace } from '../port'
import { conform, environment, environmentOf, pagesOfTests } from '../testing/conformance'
import { PATIENT_MS, until } from '../testing/patience'

const base = pagesOfTests()

conform('WebKitGTK', async () => (await openWebKit(environmentOf('WebKitGTK'), realPace())).driver)

test('the whole display has more than the page, and masks what the page’s screens mask', async () => {
  const displayWith = async (secret: string) => {
    const { driver } = await openWebKit(environment, realPace())
    await driver.open(base(), PATIENT_MS)
    await driver.type({ label: 'Secret' }, secret, PATIENT_MS)
    await driver.type({ placeholder: 'your name' }, secret, PATIENT_MS, true)
    await driver.choose({ label: 'Port' }, 'Tolva', PATIENT_MS)
    const screen = await driver.screen()
    // What a page has done is painted a moment later: two pictures that are the same are what is there.
    let display = await driver.display!()
    await until(async () => {
      const before = display!.bytes
      display = await driver.display!()
      return Buffer.from(before).equals(display!.bytes)
    })
    await driver.close()
    return { screen: screen!, display: display! }
  }
  const [short, long] = [await displayWith('a'), await displayWith('much longer than the other')]
  const [{ width, height }, size] = [short.screen, await sharp(short.display.bytes).metadata()]
  expect(size.width).toBeGreaterThan(width)
  expect(size.height).toBeGreaterThan(height)
  const fields = async ({ display }: typeof short) =>
    (await sharp(display.bytes).resize({ width: 300 }).greyscale().raw().toBuffer()).toString('hex')
  expect(await fields(short)).toBe(await fields(long))
})
