/** The fare desk: sign in, find a booking, change it, pay money back. */
import { money, sailingById, TIMES } from './fares'
import { happens, hasFault, type Surprises } from './faults'
import { esc, page, redirect, type Answer, type Ask } from './http'
import { alertLine, field, layout, options, overlay } from './layout'
import type { Booking, FerryStore, Session } from './store'

type Here = { ask: Ask; session: Session; store: FerryStore; seed: string; surprises: Surprises }

const ACCOUNTS: Record<string, { password: string; title: string; mayRefund: boolean }> = {
  clerk: { password: 'harbour-12', title: 'Clerk', mayRefund: true },
  trainee: { password: 'harbour-34', title: 'Trainee', mayRefund: false },
}
const REASONS = ['Sailing cancelled', 'Passenger ill', 'Booked twice']
const FAULTY_REFUND_CENTS = 400_00

const at = (here: Here, path: string) => `/b/${here.ask.build}/desk${path}`
const show = (here: Here, title: string, body: string, status = 200, dialog?: string) =>
  page(
    layout({ app: 'Fare desk', build: here.ask.build, title, body, signedIn: here.session.clerk, dialog }),
    status,
  )

export async function desk(here: Here): Promise<Answer> {
  const { ask, session, store } = here
  if (ask.path === '/sign-in') return signIn(here)
  if (ask.path === '/take-over') {
    const account = ask.query.get('account') ?? ''
    await store.endElsewhere(account, session)
    return redirect(at(here, '/'))
  }
  if (ask.path === '/sign-out') {
    await store.setClerk(session.id, null)
    return redirect(at(here, '/'))
  }
  // The machine at the desk is shared: now and then the one before forgot to sign out.
  if (ask.path === '/' && !session.clerk && !session.storm_seen && happens('left-signed-in', here)) {
    await store.stormSeen(session.id)
    await store.setClerk(session.id, 'trainee')
    session.clerk = 'trainee'
  }
  if (!session.clerk) return signInForm(here)
  if (ask.path === '/' || ask.path === '/bookings') return find(here)
  const [, reference, action] = /^\/bookings\/(FS-\d+)(?:\/(refund|change))?$/.exec(ask.path) ?? []
  const known = reference ? await store.booking(ask.build, reference) : undefined
  if (!known) return show(here, 'Not found', alertLine('No booking has this reference'), 404)
  if (action === 'refund') return refund(here, known)
  if (action === 'change') return change(here, known)
  return bookingCard(here, known)
}

const signInForm = (here: Here, problem?: string) =>
  show(
    here,
    'Sign in',
    `${alertLine(problem)}<form class="card" method="post"
      action="${at(here, '/sign-in')}">${field('Account', '<input name="account" autocomplete="off">')}
        ${field('Password', '<input name="password" type="password" autocomplete="off">')}
        <button>Sign in</button></form>`,
  )

async function signIn(here: Here): Promise<Answer> {
  const name = here.ask.form.get('account') ?? ''
  if (!Object.hasOwn(ACCOUNTS, name) || ACCOUNTS[name]!.password !== here.ask.form.get('password'))
    return signInForm(here, 'The account or the password is not right')
  if (await here.store.elsewhere(name, here.session)) {
    return show(
      here,
      'Sign in',
      '<p>One account, one desk.</p>',
      200,
      overlay(
        'Signed in elsewhere',
        `The account ${name} is at work at another desk.`,
        `${at(here, '/take-over')}?account=${name}`,
        'End the other session',
      ),
    )
  }
  await here.store.setClerk(here.session.id, name)
  return redirect(at(here, '/bookings'))
}

async function find(here: Here): Promise<Answer> {
  const reference = (here.ask.query.get('reference') ?? '').trim().toUpperCase()
  if (reference && (await here.store.booking(here.ask.build, reference)))
    return redirect(at(here, `/bookings/${reference}`))
  return show(
    here,
    'Find a booking',
    `${alertLine(reference ? 'No booking has this reference' : undefined)}<form class="card"
      action="${at(here, '/bookings')}">${field(
        'Reference',
        `<input name="reference"
      value="${esc(reference)}">`,
      )}<button>Find</button></form>`,
  )
}

function bookingCard(here: Here, known: Booking, problem?: string): Answer {
  const sailing = sailingById(known.sailing)!
  const said = here.ask.query.get('said')
  const amount = esc(here.ask.query.get('amount') ?? '')
  const notices = {
    refunded: `${amount} will be paid back within five days`,
    changed: 'The sailing was changed',
  }
  const notice = notices[said as keyof typeof notices] ?? ''
  return show(
    here,
    `Booking ${known.reference}`,
    `${notice && `<p role="status">${notice}</p>`}${alertLine(problem)}
    <section class="card"><dl><dt>Passenger</dt><dd>${esc(known.lead)}, ${known.passengers} in all</dd>
      <dt>Sailing</dt><dd data-testid="sailing">${esc(sailing.from)} to ${esc(sailing.to)}, ${sailing.date} ${sailing.time}</dd>
    <dt>State</dt><dd data-testid="state">${known.state}</dd>
      <dt>Paid</dt><dd>${money(known.total_cents)}</dd>
      <dt>Balance</dt><dd data-testid="balance">${money(known.total_cents - known.refunded_cents)}</dd></dl></section>
    <form class="card" method="post" action="${at(here, `/bookings/${known.reference}/change`)}"><h2>Change</h2>${field(
      'Leaves at',
      `<select name="time">${options(
        TIMES.map(({ time }) => time),
        sailing.time,
      )}</select>`,
    )}<button>Change sailing</button></form>
    <form class="card" method="post"
      action="${at(here, `/bookings/${known.reference}/refund`)}"><h2>Refund</h2>${field(
        'Amount',
        '<input name="amount" inputmode="decimal">',
      )}
      ${field('Reason', `<select name="reason">${options(REASONS)}</select>`)}
      <button class="go">Refund</button></form>`,
  )
}

async function change(here: Here, known: Booking): Promise<Answer> {
  const sailing = sailingById(known.sailing)!
  const time = here.ask.form.get('time') ?? ''
  const moved = known.sailing.replace(/\d{4}$/, time.replace(':', ''))
  if (!sailingById(moved) || time === sailing.time) return bookingCard(here, known, 'Choose another time')
  await here.store.move(known.reference, moved)
  return redirect(at(here, `/bookings/${known.reference}?said=changed`))
}

async function refund(here: Here, known: Booking): Promise<Answer> {
  const cents = Math.round(Number(here.ask.form.get('amount')) * 100)
  if (!ACCOUNTS[here.session.clerk ?? '']?.mayRefund)
    return bookingCard(here, known, 'This account may not pay money back')
  if (!Number.isFinite(cents) || cents <= 0) return bookingCard(here, known, 'Write the amount to pay back')
  if (cents > FAULTY_REFUND_CENTS && hasFault(here.ask.build, 'refund-over-400-fails'))
    return page(
      layout({
        app: 'Fare desk',
        build: here.ask.build,
        title: 'Something went wrong',
        body: '<p>The refund could not be worked out: error 500 in refund.total</p>',
      }),
      500,
    )
  if (cents > known.total_cents - known.refunded_cents)
    return bookingCard(here, known, 'More than was paid cannot be paid back')
  await here.store.refund(known.reference, cents)
  return redirect(at(here, `/bookings/${known.reference}?said=refunded&amount=${money(cents)}`))
}
