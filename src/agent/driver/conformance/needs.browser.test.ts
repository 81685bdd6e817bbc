/** What a person did before an element could be clicked at all: recorded, so that the steps play. */
import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import type { Step } from '@/core/model'
import { PATIENT_MS, until } from '../testing/patience'
import { enginesOfTests, SteeredBrowser } from '../testing/steered'

/** Nothing here is drawn twice: what each part shows, it shows once. */
const PAGE = `<!doctype html><title>Deck plan</title><style>body { font: 16px sans-serif; margin: 0 }
.menu ul { display: none } .menu:hover ul { display: block } #late { height: 30px }
.row button { visibility: hidden } .row:hover button { visibility: visible }
#list { height: 80px; overflow: auto; width: 300px } #list p { height: 60px; margin: 0 }
#slide { position: relative } .sliding { animation: sliding 5s linear } @keyframes sliding { from { left: 0 } to { left: 80px } }
#under { width: 200px; height: 40px } #over { position: absolute; left: 70px; top: 0; width: 60px; height: 40px; background: #ccc }</style>
<div style="height: 110px"><div class="menu"><button id="extras">Extras</button><ul><li><button
  id="meals">Meals</button></li></ul></div></div>
<div style="height: 60px"><button id="scripted">Cabins</button><span id="sub"></span></div>
<div class="row" style="height: 40px"><span>Boat deck</span> <button id="fold">Fold away</button></div>
<p style="height: 30px; margin: 0"><button id="search">Search</button> <button id="go-on">Go on</button> <span id="late"></span></p>
<div style="position: relative; height: 60px; margin-top: 30px"><button id="under">Lift</button><div id="over"></div></div>
<p><button id="lower">Lower</button> <button id="slide">Ramp</button> <button
  id="unbound">Board</button> <span id="boarded"></span> <button id="still">Nothing</button></p>
<form id="form-1" action="/b/7/weights" onsubmit="return false"><button>Weigh</button></form>
<form id="form-2" onsubmit="return false"><input type="hidden" name="t"><input name="berth"><button>Moor</button></form>
<div id="list"><p>Car 1<p>Car 2<p>Car 3</div>
<script>
scripted.onmouseenter = () => setTimeout(() => { sub.innerHTML = '<button id="inner">Inner cabins</button>' }, 120)
search.onclick = () => setTimeout(() => { late.innerHTML = '<h2>Sailings of the day</h2>' }, 900)
lower.onclick = () => { slide.className = 'sliding' }
slide.onanimationend = () => { slide.textContent = 'Ramp at rest' }
let more = 0
const last = '<p><button id="last">Last car</button>'
list.onscroll = () => { if (more++ === 0) setTimeout(() => list.insertAdjacentHTML('beforeend', last), 150) }
let clicks = 0
unbound.onclick = () => { if (++clicks === 2) boarded.innerHTML = '<h2>All aboard</h2>' }
for (const one of [meals, fold, slide, under]) one.onclick = () => (document.title = 'done: ' + one.textContent)
document.addEventListener('click', ({ target }) => { if (target.id === 'last') document.title = 'done: last' })
</script>`

const ENGINES = enginesOfTests().filter(({ name }) => !name.includes('apart'))
const pages = createServer((_, response) => {
  response.setHeader('content-type', 'text/html')
  response.end(PAGE)
})
const address = () => `http://127.0.0.1:${(pages.address() as AddressInfo).port}/`
beforeAll(() => new Promise<void>((resolve) => pages.listen(0, '127.0.0.1', resolve)))
afterAll(async () => {
  pages.close()
  for (const engine of ENGINES) await engine.close()
})

let browser: SteeredBrowser
const recorded = async (count: number) => {
  await until(async () => browser.recorded().length === count)
  return browser.recorded().map(({ step }) => inWords(step))
}
const nameIn = ({ role, name, css }: { role?: string; name?: string; css?: string }) =>
  name !== undefined && role !== undefined ? `${role} ${name}` : css
function inWords(step: Step): string {
  if (step.verb === 'click' || step.verb === 'hover') return `${step.verb} ${nameIn(step.on)}`
  if (step.verb === 'scroll') return `scroll until ${nameIn(step.until!)} in ${nameIn(step.in ?? {})}`
  if (step.verb === 'wait') return `wait for ${nameIn(step.for!)}`
  if (step.verb === 'repeat' && step.until && 'visible' in step.until)
    return `until ${nameIn(step.until.visible)}: ${step.steps.map(inWords).join()}`
  return step.verb
}
const shown = (css: string) => until(async () => (await browser.driver.look({ css })).found !== undefined)
const isCaution = (words: string) => () =>
  Promise.resolve(browser.recorded().at(-1)?.caution?.includes(words) ?? false)

for (const { name, isHere, open } of ENGINES)
  (isHere ? describe : describe.skip)(name, () => {
    beforeEach(async () => {
      browser = await SteeredBrowser.open(open, address())
      await browser.point({ css: '#still' })
    })
    afterEach(() => browser.close())

    test('a menu that the style of the page shows under the pointer', async () => {
      await browser.point({ css: '#extras' })
      await browser.click({ css: '#meals' })
      expect(await recorded(2)).toEqual(['hover button Extras', 'click button Meals'])
    })

    test('a check of what only the pointer shows is told where the pointer has to be', async () => {
      await browser.point({ css: '#extras' })
      await shown('#meals')
      const { x, y } = await browser.middle({ css: '#meals' })
      expect(await browser.live.factsAt(x, y)).toMatchObject({
        name: 'Meals',
        shownBy: { role: 'button', name: 'Extras', css: '#extras' },
      })
      const still = await browser.middle({ css: '#still' })
      expect(await browser.live.factsAt(still.x, still.y)).not.toHaveProperty('shownBy')
    })

    test('of a part of the screen the element around it is told', async () => {
      const list = (await browser.driver.look({ css: '#list' })).found!.box!
      expect(await browser.live.factsAt(list.x + 5, list.y + 5, 200, 70)).toMatchObject({ css: '#list' })
      expect(await browser.live.factsAt(list.x + 5, list.y + 5, 20, 20)).toMatchObject({ tag: 'p' })
    })

    test('a menu that a script shows when the pointer comes', async () => {
      await browser.point({ css: '#scripted' })
      await shown('#inner')
      await browser.click({ css: '#inner' })
      expect(await recorded(2)).toEqual(['hover button Cabins', 'click button Inner cabins'])
    })

    test('a pointer that only came by is not told', async () => {
      await browser.point({ css: '#extras' })
      await browser.point({ css: '#scripted' })
      await browser.point({ css: '#search' })
      await browser.click({ css: '#go-on' })
      expect(await recorded(1)).toEqual(['click button Go on'])
    })

    test('a list that had to be scrolled for it to come', async () => {
      const at = await browser.middle({ css: '#list' })
      await browser.live.input({ do: 'wheel', ...at, dx: 0, dy: 300 })
      await shown('#last')
      await browser.live.input({ do: 'wheel', ...at, dx: 0, dy: 600 })
      const isInView = async () => {
        const list = (await browser.driver.look({ css: '#list' })).found!.box!
        return (await browser.middle({ css: '#last' })).y < list.y + list.h
      }
      await until(isInView)
      await browser.click({ css: '#last' })
      expect(await recorded(2)).toEqual(['scroll until button Last car in #list', 'click button Last car'])
    })

    test('what was done before has its effect first: a condition, and no time', async () => {
      await browser.click({ css: '#search' })
      await shown('#late h2')
      await browser.click({ css: '#go-on' })
      expect(await recorded(3)).toEqual([
        'click button Search',
        'wait for heading Sailings of the day',
        'click button Go on',
      ])
    })

    test('what still moves is said, and waited for when it is played', async () => {
      await browser.click({ css: '#lower' })
      await browser.click({ css: '#slide' })
      await until(isCaution('still moving'))
      expect(browser.recorded().at(-1)!.caution).toContain('still moving')
      const { x } = await browser.middle({ css: '#slide' })
      await until(async () => (await browser.middle({ css: '#slide' })).x !== x)
      await browser.driver.click({ css: '#slide' }, PATIENT_MS)
      expect(await browser.driver.look({ css: '#slide' })).toMatchObject({ count: 1, text: 'Ramp at rest' })
    })

    test('what something stands over is said', async () => {
      const { box } = (await browser.driver.look({ css: '#under' })).found!
      for (const type of ['down', 'up'] as const)
        await browser.live.input({
          do: 'mouse',
          type,
          x: box!.x + 20,
          y: box!.y + 20,
          button: 'left',
          clicks: 1,
          with: [],
        })
      await until(isCaution('covered by div'))
      expect(browser.recorded().at(-1)!.caution).toContain('covered by div')
    })

    test('a button is found by what its form is for, too', async () => {
      await browser.click({ css: '#form-1 button' })
      await browser.click({ css: '#form-2 button' })
      await until(async () => browser.steps().length === 2)
      expect(browser.steps()).toEqual([
        { click: { on: { role: 'button', name: 'Weigh', css: 'form[action$="/weights"] button' } } },
        { click: { on: { role: 'button', name: 'Moor', css: 'form:has([name="berth"]) button' } } },
      ])
    })

    test('a click that does nothing is said; done again, the step clicks until it does', async () => {
      await browser.click({ css: '#unbound' })
      await until(isCaution('Nothing on the page changed'))
      expect(browser.recorded().at(-1)!.caution).toContain('Nothing on the page changed')
      await browser.click({ css: '#unbound' })
      await until(async () => (await recorded(1))[0] !== 'click button Board')
      expect(await recorded(1)).toEqual(['until heading All aboard: click button Board'])
    })
  })
