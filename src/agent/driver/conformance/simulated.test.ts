import { BrowserHolder } from '../../chromium/browser'
import { PictureMaker } from '../../simulated/pictures'
import { SimulatedDriver } from '../../simulated/driver'
import { virtualPace } from '../port'
import { conform, environmentOf } from '../testing/conformance'

const holder = new BrowserHolder()
const pictures = new PictureMaker(holder)
afterAll(() => holder.close())

conform(
  'simulated',
  async () =>
    new SimulatedDriver({ environment: environmentOf('simulated'), pace: virtualPace(), seed: 3, pictures }),
)
