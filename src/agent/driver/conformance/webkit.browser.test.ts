import sharp from 'sharp'
import { openWebKit } from '../../webdriver/webkit'
import { realPace } from '../port'
import { conform, environment, environmentOf, pagesOfTests } from '../testing/conformance'
import { PATIENT_MS, until } from '../testing/patience'

const base = pagesOfTests()
/** What smoothing makes of the same letter. */
const SHADES = 8

conform('WebKitGTK', async () => (await openWebKit(environmentOf('WebKitGTK'), realPace())).driver)

/** Rows of two pictures with other shades, and where in the row that begins. */
const rowsThatDiffer = (one: Buffer, other: Buffer, width: number): string[] =>
  Array.from({ length: one.length / width }, (_, y) => {
    const x = one
      .subarray(y * width, (y + 1) * width)
      .findIndex((shade, i) => Math.abs(shade - other[y * width + i]!) > SHADES)
    return x < 0 ? [] : [`${x},${y}`]
  }).flat()

test('the whole display has more than the page, and masks what the page’s screens mask', async () => {
  const written = async (secret: string) => {
    const { driver } = await openWebKit(environment, realPace())
    await driver.open(base(), PATIENT_MS)
    await driver.type({ label: 'Secret' }, secret, PATIENT_MS)
    await driver.type({ placeholder: 'your name' }, secret, PATIENT_MS, true)
    await driver.choose({ label: 'Port' }, 'Tolva', PATIENT_MS)
    return driver
  }
  const drivers = [await written('a'), await written('much longer than the other')]
  try {
    // a screen of the page has it painted what was done
    const [screen] = [(await drivers[0]!.screen())!, await drivers[1]!.screen()]
    const { width, height } = screen
    const display = (await drivers[0]!.display!())!
    const size = await sharp(display.bytes).metadata()
    expect(size.width).toBeGreaterThan(width)
    expect(size.height).toBeGreaterThan(height)
    // the page alone: what stands above it may still turn while something loads
    const page = { left: 0, top: size.height - height, width, height }
    const fields = async () =>
      Promise.all(
        drivers.map(async (driver) => {
          const { bytes } = (await driver.display!())!
          return sharp(bytes).extract(page).greyscale().raw().toBuffer()
        }),
      )
    // What a page has done is painted a moment later, on a busy machine much later.
    let differ: string[] = []
    await until(async () => {
      const [one, other] = await fields()
      differ = rowsThatDiffer(one!, other!, width)
      return differ.length === 0
    })
    expect(differ).toEqual([])
  } finally {
    for (const driver of drivers) await driver.close()
  }
})
