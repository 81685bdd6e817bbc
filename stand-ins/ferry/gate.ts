/** The boarding gate, on a small screen: look up a reference, board or refuse, count who is on board. */
import { sailingById } from './fares'
import { hasFault } from './faults'
import { esc, page, redirect, type Answer, type Ask } from './http'
import { alertLine, field, layout } from './layout'
import type { Booking, FerryStore } from './store'

type Here = { ask: Ask; store: FerryStore }
const at = (here: Here, path: string) => `/b/${here.ask.build}/gate${path}`
const show = (here: Here, title: string, body: string, status = 200) =>
  page(
    layout({
      app: 'Boarding gate',
      build: here.ask.build,
      title,
      body,
      footerOverBar: hasFault(here.ask.build, 'board-button-under-footer'),
    }),
    status,
  )

export async function gate(here: Here): Promise<Answer> {
  const { ask, store } = here
  if (ask.path === '/') return lookUp(here)
  if (ask.path === '/passengers') {
    const reference = (ask.query.get('reference') ?? '').trim().toUpperCase()
    if (!reference) return lookUp(here, 'Scan or type a reference')
    return (await store.booking(ask.build, reference))
      ? redirect(at(here, `/passengers/${reference}`))
      : lookUp(here, `${reference} is not booked`)
  }
  const [, reference, action] = /^\/passengers\/(FS-\d+)(?:\/(board|refuse))?$/.exec(ask.path) ?? []
  const known = reference ? await store.booking(ask.build, reference) : undefined
  if (!known) return show(here, 'Not found', alertLine('No such passenger'), 404)
  if (ask.method === 'POST' && action) {
    if (known.state !== 'booked')
      return card(
        here,
        known,
        known.state === 'boarded' ? 'Already on board' : `Cannot board: ${known.state}`,
      )
    await store.setState(known.reference, action === 'board' ? 'boarded' : 'refused')
    return redirect(at(here, `/passengers/${known.reference}`))
  }
  return card(here, known)
}

const lookUp = (here: Here, problem?: string) =>
  show(
    here,
    'Boarding',
    `${alertLine(problem)}<form class="card"
      action="${at(here, '/passengers')}">${field(
        'Reference',
        '<input name="reference" autocomplete="off" placeholder="FS-00000">',
      )}<button>Look up</button></form>`,
  )

async function card(here: Here, known: Booking, problem?: string): Promise<Answer> {
  const sailing = sailingById(known.sailing)!
  const all = await here.store.ofSailing(here.ask.build, known.sailing)
  const onBoard = all
    .filter((booking) => booking.state === 'boarded')
    .reduce((sum, booking) => sum + booking.passengers, 0)
  const said = {
    boarded: '<p role="status">On board</p>',
    refused: '<p role="alert">Refused</p>',
    refunded: '<p role="alert">This booking was refunded</p>',
    draft: '<p role="alert">Not paid yet</p>',
    booked: '',
  }[known.state]
  const button = (action: string, title: string, look: string) =>
    `<form method="post" action="${at(here, `/passengers/${known.reference}/${action}`)}"><button
      class="${look}">${title}</button></form>`
  return show(
    here,
    esc(known.lead),
    `${problem ? alertLine(problem) : said}<section
      class="card"><dl><dt>Reference</dt><dd>${known.reference}</dd><dt>Travelling</dt><dd
      data-testid="party">${known.passengers}</dd>
    <dt>Sailing</dt><dd>${esc(sailing.vessel)}, ${sailing.date} ${sailing.time}</dd><dt>On board</dt><dd
      data-testid="on-board">${onBoard}</dd></dl></section>
    <div class="bar">${button('board', 'Board', 'go')}${button('refuse', 'Refuse', 'plain')}<a
      class="button" href="${at(here, '/')}">Next</a></div>`,
  )
}
