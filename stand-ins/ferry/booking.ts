/** The public site: search a crossing, choose a sailing, say who travels, pay, get a reference. */
import { CABINS, EXTRAS, fareOf, money, PORTS, sailingById, sailingsOf } from './fares'
import { happens, hasFault, type Surprises } from './faults'
import { download, esc, json, page, redirect, type Answer, type Ask } from './http'
import { alertLine, field, layout, options, overlay } from './layout'
import type { FerryStore, Session } from './store'

type Here = {
  ask: Ask
  session: Session
  store: FerryStore
  seed: string
  today: Date
  surprises: Surprises
}
const DAY_MS = 86_400_000

export async function booking(here: Here): Promise<Answer> {
  const { ask } = here
  const reference = /^\/(?:pay|payments|confirm|done|card)\/(FS-\d+)$/.exec(ask.path)?.[1]
  const api = /^\/api\/bookings\/(FS-\d+)$/.exec(ask.path)?.[1]
  if (api) return bookingApi(here, api)
  if (reference) return bookingPage(here, reference)
  if (ask.path === '/') return search(here)
  if (ask.path === '/sailings') return sailings(here)
  if (ask.path === '/details') return ask.method === 'POST' ? takeDetails(here) : details(here)
  if (ask.path === '/storm-seen') {
    await here.store.stormSeen(here.session.id)
    return redirect(ask.query.get('back') ?? `/b/${ask.build}/booking/`)
  }
  return page(
    layout({ app: 'Booking', build: ask.build, title: 'Not found', body: '<p>There is no such page.</p>' }),
    404,
  )
}

const at = (here: Here, path: string) => `/b/${here.ask.build}/booking${path}`

function show(
  here: Here,
  title: string,
  body: string,
  more: { dialog?: string; script?: string } = {},
): Answer {
  const { ask, session } = here
  const storm = !session.storm_seen && ask.path !== '/' && happens('storm', here)
  const back = `${at(here, ask.path)}${ask.query.size > 0 ? `?${ask.query}` : ''}`
  const dialog = storm
    ? overlay(
        'Storm notice',
        'Gales are forecast in Fennel Sound. Sailings may be moved.',
        `${at(here, '/storm-seen')}?back=${encodeURIComponent(back)}`,
        'Understood',
      )
    : more.dialog
  return page(layout({ app: 'Booking', build: ask.build, title, body, ...more, dialog }))
}

/** Day first, as the line's customers write it; one build forgets that outside Chromium. */
function writeDate(ask: Ask, iso: string): string {
  const [year, month, day] = iso.split('-')
  const monthFirst =
    hasFault(ask.build, 'month-first-outside-chromium') && !/Chrom(e|ium)\//.test(ask.userAgent)
  return monthFirst ? `${month}/${day}/${year}` : `${day}/${month}/${year}`
}

function readDate(text: string): string | undefined {
  const found = /^(\d{1,2})\/(\d{1,2})\/(\d{4})$/.exec(text.trim())
  if (!found) return undefined
  const iso = `${found[3]}-${found[2]!.padStart(2, '0')}-${found[1]!.padStart(2, '0')}`
  return Number.isNaN(Date.parse(iso)) || new Date(iso).toISOString().slice(0, 10) !== iso ? undefined : iso
}

function search(here: Here, problem?: string): Answer {
  const { ask, today } = here
  const inTwoWeeks = new Date(today.getTime() + 14 * DAY_MS).toISOString().slice(0, 10)
  const wanted = (name: string, other: string) => ask.query.get(name) ?? other
  return show(
    here,
    'Find a crossing',
    `${alertLine(problem)}<form class="card" action="${at(here, '/sailings')}">
    ${field('From', `<select name="from">${options(PORTS, wanted('from', 'Skerrow'))}</select>`)}
    ${field('To', `<select name="to">${options(PORTS, wanted('to', 'Tolva'))}</select>`)}
    ${field(
      'Sailing date',
      `<input name="date" value="${esc(wanted('date', writeDate(ask, inTwoWeeks)))}"
      placeholder="dd/mm/yyyy">`,
    )}
    <input type="hidden" name="offered" value="${inTwoWeeks} ${esc(writeDate(ask, inTwoWeeks))}">
    ${field(
      'Passengers',
      `<input name="passengers" inputmode="numeric"
      value="${esc(wanted('passengers', '1'))}">`,
    )}
    <label class="tick"><input type="checkbox" name="return"
      value="yes"${ask.query.get('return') ? ' checked' : ''}><span>Return crossing</span></label>
    <button>${hasFault(ask.build, 'labels-reworded') ? 'Show crossings' : 'Find sailings'}</button></form>`,
  )
}

function sailings(here: Here): Answer {
  const { ask } = here
  const from = ask.query.get('from') ?? ''
  const to = ask.query.get('to') ?? ''
  const passengers = Number(ask.query.get('passengers'))
  const [offered, offeredAs] = (ask.query.get('offered') ?? '').split(' ')
  const written = ask.query.get('date') ?? ''
  // the date we offered is taken as it was meant
  const date = written === offeredAs ? offered : readDate(written)
  if (!(PORTS as readonly string[]).includes(from) || from === to)
    return search(here, 'Choose two different ports')
  if (!Number.isInteger(passengers) || passengers < 1 || passengers > 9)
    return search(here, 'Between 1 and 9 passengers can travel on one booking')
  if (!date) return search(here, 'Write the date as day/month/year')
  if (Date.parse(date) < here.today.getTime() - DAY_MS) return search(here, 'That day has passed')
  const isReturn = ask.query.get('return') === 'yes'
  const { eachCents } = fareOf(ask.build, { from, to, passengers, isReturn })
  const rows = sailingsOf(from, to, date).map((sailing) => {
    const query = new URLSearchParams({
      sailing: sailing.id,
      passengers: String(passengers),
      ...(isReturn && { return: 'yes' }),
    })
    return `<tr><td>${sailing.time}</td><td>${esc(sailing.vessel)}</td><td>${money(eachCents)} each</td>
      <td><a class="button" href="${at(here, `/details?${esc(String(query))}`)}">Choose ${sailing.time}</a></td></tr>`
  })
  const party = `${passengers} ${passengers === 1 ? 'passenger' : 'passengers'}${isReturn ? ', return' : ''}`
  return show(
    here,
    `${from} to ${to}`,
    `<p>Sailing on <b data-testid="sailing-date">${esc(writeDate(ask, date))}</b>, ${party}</p>
    <table><thead><tr><th>Leaves</th><th>Vessel</th><th>Fare</th><th></th></tr></thead><tbody>${rows.join('')}</tbody></table>`,
  )
}

function details(here: Here, problem?: string): Answer {
  const { ask } = here
  const values = ask.method === 'POST' ? ask.form : ask.query
  const sailing = sailingById(values.get('sailing') ?? '')
  if (!sailing) return search(here, 'Choose a sailing first')
  const cabins = sailing.night ? Object.values(CABINS).map((cabin) => cabin.title) : [CABINS.none.title]
  const lower = hasFault(ask.build, 'deck-plan-lower') ? 12 : 0
  const hidden = ['sailing', 'passengers', 'return']
    .map((name) =>
      values.get(name) ? `<input type="hidden" name="${name}" value="${esc(values.get(name))}">` : '',
    )
    .join('')
  const extras = Object.entries(EXTRAS)
    .map(
      ([key, extra]) =>
        `<label class="tick"><input type="checkbox" name="extra"
          value="${key}"><span>${extra.title}</span></label>`,
    )
    .join('')
  return show(
    here,
    'Who travels',
    `${alertLine(problem)}<form class="card" method="post" action="${at(here, '/details')}">${hidden}
    <p>${esc(sailing.vessel)}, ${esc(sailing.time)} from ${esc(sailing.from)} to ${esc(sailing.to)}</p>
    ${field('Name of the first passenger', `<input name="lead" value="${esc(ask.form.get('lead') ?? '')}">`)}
    ${field('Cabin', `<select name="cabin">${options(cabins)}</select>`)}${extras}
    <canvas data-testid="deck" width="420" height="90"
      aria-label="Deck plan"></canvas><p><button>Continue</button></p></form>`,
    { script: deckPlan(lower) },
  )
}

const deckPlan = (
  lower: number,
) => `const c = document.querySelector('canvas').getContext('2d'); c.strokeStyle = '#14506b'; c.strokeRect(4, ${4 + lower}, 410, 60);
for (let i = 0; i < 12; i++) { c.fillStyle = i % 5 === 3 ? '#a9bcc5' : '#2f86a8';
  c.fillRect(14 + i * 33, ${14 + lower}, 22, 16); c.fillRect(14 + i * 33, ${38 + lower}, 22, 16) }`

async function takeDetails(here: Here): Promise<Answer> {
  const { ask, store } = here
  const sailing = sailingById(ask.form.get('sailing') ?? '')
  const lead = (ask.form.get('lead') ?? '').trim()
  if (!sailing) return search(here, 'Choose a sailing first')
  if (lead.length < 2) return details(here, 'Write the name of the first passenger')
  const passengers = Number(ask.form.get('passengers')) || 1
  const isReturn = ask.form.get('return') === 'yes'
  const cabin =
    (Object.keys(CABINS) as (keyof typeof CABINS)[]).find(
      (key) => CABINS[key].title === ask.form.get('cabin'),
    ) ?? 'none'
  const extras = ask.form.getAll('extra').filter((key): key is keyof typeof EXTRAS => key in EXTRAS)
  const { totalCents } = fareOf(ask.build, {
    from: sailing.from,
    to: sailing.to,
    passengers,
    isReturn,
    cabin,
    extras,
  })
  const reference = await store.addBooking({
    build: ask.build,
    sailing: sailing.id,
    lead,
    passengers,
    is_return: isReturn,
    cabin,
    extras,
    total_cents: totalCents,
  })
  return redirect(at(here, `/pay/${reference}`))
}

async function bookingPage(here: Here, reference: string): Promise<Answer> {
  const { ask, store } = here
  const known = await store.booking(ask.build, reference)
  if (!known)
    return page(
      layout({
        app: 'Booking',
        build: ask.build,
        title: 'No such booking',
        body: `<p>${esc(reference)} is not known.</p>`,
      }),
      404,
    )
  const sailing = sailingById(known.sailing)!
  const crossing = `${esc(sailing.from)} to ${esc(sailing.to)}${known.is_return ? ', return' : ''}`
  const summary = `<section class="card"><dl><dt>Crossing</dt><dd>${crossing}</dd>
    <dt>Leaves</dt><dd>${esc(sailing.vessel)}, ${writeDate(ask, sailing.date)} ${sailing.time}</dd>
    <dt>Passengers</dt><dd>${known.passengers}, ${esc(known.lead)}</dd><dt>Total</dt><dd
      data-testid="fare-total">${money(known.total_cents)}</dd></dl></section>`
  const name = ask.path.split('/')[1]
  if (name === 'payments')
    return ask.method === 'POST' ? pay(here, reference) : page(cardForm(here, reference))
  if (name === 'confirm') return finish(here, reference)
  if (name === 'card')
    return download(
      `${reference}.txt`,
      `Fennel Sound Ferries\nBoarding card ${reference}\n${known.lead}\n${sailing.from} to ` +
        `${sailing.to}, ${sailing.date} ${sailing.time}, ${sailing.vessel}\n`,
    )
  if (name === 'done') {
    return show(
      here,
      'Thank you',
      `<p role="status">Your crossing is booked</p>${summary}<p>Your reference is <b
        data-testid="reference">${reference}</b></p><p><a
        href="${at(here, `/card/${reference}`)}">Boarding card</a></p>`,
    )
  }
  const refused = ask.query.get('refused') ? 'The card was refused; try another' : undefined
  const dialog = ask.query.get('confirm')
    ? overlay(
        'Confirm your card',
        'Your bank asks you to confirm this payment.',
        at(here, `/confirm/${reference}`),
        'Confirm',
      )
    : undefined
  return show(
    here,
    'Pay for your crossing',
    `${alertLine(refused)}${summary}<iframe title="Payment"
      src="${at(here, `/payments/${reference}`)}"></iframe>`,
    { dialog },
  )
}

const cardForm = (here: Here, reference: string) => `<!doctype html><html lang="en"><head><meta
  charset="utf-8"><title>Payment</title>
    <style>body { font: 15px system-ui, "DejaVu Sans", sans-serif; padding: 12px; color: #16303c }
    label { display: block; margin-bottom: 10px }
    span { display: block }
    input { font: inherit; padding: 6px; width: 240px }
    button { font: inherit; padding: 8px 18px; background: #1f6f4a; color: #fff; border: 0; border-radius: 4px }</style></head><body>
  <form method="post" action="${at(here, `/payments/${reference}`)}"
    target="_top">${field('Card number', '<input name="card" inputmode="numeric" autocomplete="off">')}
      ${field('Security code', '<input name="code" type="password" autocomplete="off">')}
      <button>Pay now</button></form></body></html>`

/** Cards that begin with 4000 are refused; those that end with 7 ask for a confirmation first. */
async function pay(here: Here, reference: string): Promise<Answer> {
  const card = (here.ask.form.get('card') ?? '').replace(/\s/g, '')
  if (
    !/^\d{12,19}$/.test(card) ||
    card.startsWith('4000') ||
    !/^\d{3}$/.test(here.ask.form.get('code') ?? '')
  )
    return redirect(at(here, `/pay/${reference}?refused=1`))
  if (card.endsWith('7')) return redirect(at(here, `/pay/${reference}?confirm=1`))
  return finish(here, reference)
}

async function finish(here: Here, reference: string): Promise<Answer> {
  await here.store.setState(reference, 'booked')
  return redirect(at(here, `/done/${reference}`))
}

async function bookingApi({ ask, store }: Here, reference: string): Promise<Answer> {
  if (ask.method === 'DELETE')
    return (await store.remove(ask.build, reference))
      ? json({ deleted: reference })
      : json({ error: 'unknown reference' }, 404)
  const known = await store.booking(ask.build, reference)
  return known
    ? json({
        ref: known.reference,
        state: known.state,
        total: money(known.total_cents),
        passengers: known.passengers,
        sailing: known.sailing,
      })
    : json({ error: 'unknown reference' }, 404)
}
