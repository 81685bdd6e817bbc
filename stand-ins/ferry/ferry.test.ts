import type { Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { fareOf, sailingById, sailingsOf } from './fares'
import { happens, nowAndThen, slowMs, SURPRISES, type Surprises } from './faults'
import { startFerry } from './server'

const CHROMIUM = 'Mozilla/5.0 (X11) AppleWebKit/537.36 Chrome/156.0.0.0 Safari/537.36'
const FIREFOX = 'Mozilla/5.0 (Windows NT 10.0; rv:153.0) Gecko/20100101 Firefox/153.0'
let server: Server
let base: string
beforeAll(async () => {
  server = await startFerry({
    port: 0,
    databaseUrl: process.env.OAK_TEST_DATABASE_URL!,
    seed: 'fennel',
    surprises: 'none',
  })
  base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`
})
afterAll(() => {
  server.closeAllConnections()
  server.close()
})

/** A visitor with cookies. */
function visitor(build: string, userAgent = CHROMIUM) {
  let cookie = ''
  const ask = async (
    path: string,
    form?: Record<string, string>,
  ): Promise<{ status: number; text: string; at: string }> => {
    const response = await fetch(`${base}/b/${build}${path}`, {
      method: form ? 'POST' : 'GET',
      redirect: 'manual',
      headers: {
        'user-agent': userAgent,
        cookie,
        ...(form && { 'content-type': 'application/x-www-form-urlencoded' }),
      },
      ...(form && { body: String(new URLSearchParams(form)) }),
    })
    cookie = response.headers.getSetCookie()[0]?.split(';')[0] ?? cookie
    const to = response.headers.get('location')
    if (to) return ask(to.replace(`/b/${build}`, ''))
    const text = await response.text()
    return { status: response.status, text, at: path }
  }
  return ask
}
type Visitor = ReturnType<typeof visitor>
const FAR = '2030-12-24'

async function book(
  ask: Visitor,
  {
    passengers = '1',
    isReturn = false,
    to = 'TOL',
    extra = {} as Record<string, string>,
    time = '0940',
  } = {},
): Promise<string> {
  const { at } = await ask('/booking/details', {
    sailing: `SKE-${to}-${FAR}-${time}`,
    passengers,
    ...(isReturn && { return: 'yes' }),
    lead: 'Isla Fenwick',
    cabin: 'No cabin',
    ...extra,
  })
  const reference = /FS-\d+/.exec(at)![0]
  await ask(`/booking/payments/${reference}`, { card: '5555000011112222', code: '737' })
  return reference
}
const total = (text: string) => /data-testid="fare-total">([\d.]+)/.exec(text)?.[1]

describe('fares', () => {
  const trip = { from: 'Skerrow', to: 'Tolva', passengers: 3, isReturn: true }
  test.each([
    ['2026.11.1', 8640],
    ['2026.11.2', 8600],
    ['2026.11.3', 8640],
  ])('a return for three in %s costs %d', (build, cents) =>
    expect(fareOf(build, trip).totalCents).toBe(cents),
  )
  test('the fault leaves singles and pairs alone', () =>
    expect([
      fareOf('2026.11.2', { ...trip, isReturn: false }).totalCents,
      fareOf('2026.11.2', { ...trip, passengers: 2 }).totalCents,
    ]).toEqual([4320, 5760]))
  test('cabin and extras are added', () =>
    expect(
      fareOf('2026.11.1', {
        ...trip,
        passengers: 1,
        isReturn: false,
        cabin: 'cabin',
        extras: ['car', 'meal'],
      }).totalCents,
    ).toBe(1440 + 4200 + 3600 + 1150))
  test('every sailing is found by its id, nothing else is', () => {
    for (const sailing of sailingsOf('Maren Quay', 'Little Aske', FAR))
      expect(sailingById(sailing.id)).toEqual(sailing)
    for (const id of ['', 'SKE-TOL-2030-12-24-0000', 'XXX-TOL-2030-12-24-0940'])
      expect(sailingById(id)).toBeUndefined()
  })
})

test('now and then is the same for the same build, session and seed, and about as often as it says', () => {
  const storms = Array.from({ length: 20_000 }, (_, session) =>
    nowAndThen('storm', '2026.11.1', session, 's'),
  )
  expect(storms).toEqual(
    Array.from({ length: 20_000 }, (_, session) => nowAndThen('storm', '2026.11.1', session, 's')),
  )
  expect(storms.filter(Boolean).length / 20_000).toBeCloseTo(0.022, 2)
  for (let session = 0; session < 50; session++) expect(slowMs(session, 's')).toBeGreaterThanOrEqual(2000)
})

test('what may happen now and then is chosen: all of it, what takes no time, nothing', async () => {
  const visits = (surprises: Surprises) =>
    Array.from({ length: 400 }, (_, number) => ({
      ask: { build: '2026.11.1' },
      session: { number },
      seed: 's',
      surprises,
    }))
  const kinds = (surprises: Surprises) =>
    (['storm', 'left-signed-in', 'slow-manifest'] as const).filter((what) =>
      visits(surprises).some((visit) => happens(what, visit)),
    )
  expect(SURPRISES.map(kinds)).toEqual([
    ['storm', 'left-signed-in', 'slow-manifest'],
    ['storm', 'left-signed-in'],
    [],
  ])
  const control = async (query: string) =>
    (await (await fetch(`${base}/control/surprises${query}`, { method: 'POST' })).json()) as unknown
  expect(await control('?are=all')).toEqual({ surprises: 'all' })
  expect(await control('')).toEqual({ surprises: 'none' }) // as at the start
})

describe('booking', () => {
  test.each([
    [{ from: 'Tolva', to: 'Tolva', date: '24/12/2030', passengers: '1' }, 'Choose two different ports'],
    [{ from: 'Skerrow', to: 'Tolva', date: '24/12/2030', passengers: '10' }, 'Between 1 and 9'],
    [{ from: 'Skerrow', to: 'Tolva', date: '12/24/2030', passengers: '1' }, 'day/month/year'],
    [{ from: 'Skerrow', to: 'Tolva', date: '01/01/2020', passengers: '1' }, 'That day has passed'],
  ])('refuses %j', async (search, says) =>
    expect(
      (await visitor('2026.11.1')(`/booking/sailings?${String(new URLSearchParams(search))}`)).text,
    ).toContain(says),
  )
  test.each([
    ['2026.11.3', FIREFOX, '12/24/2030'],
    ['2026.11.3', CHROMIUM, '24/12/2030'],
    ['2026.11.2', FIREFOX, '24/12/2030'],
  ])('writes the date in %s for this browser as it should or should not', async (build, agent, date) => {
    expect(
      (await visitor(build, agent)('/booking/sailings?from=Skerrow&to=Tolva&date=24/12/2030&passengers=1'))
        .text,
    ).toContain(`data-testid="sailing-date">${date}<`)
  })
  test('the date a page offers is taken as it was meant, however it is written', async () => {
    const ask = visitor('2026.11.3', FIREFOX)
    const { text } = await ask('/booking/')
    const [offered, date] = [
      /name="offered" value="([^"]+)"/.exec(text)![1]!,
      /name="date" value="([^"]+)"/.exec(text)![1]!,
    ]
    expect(
      (
        await ask(
          `/booking/sailings?${String(new URLSearchParams({ from: 'Skerrow', to: 'Tolva', passengers: '1', date, offered }))}`,
        )
      ).text,
    ).toContain('Choose 09:40')
  })
  test.each([
    ['2026.11.3', 'Find sailings'],
    ['2026.11.4', 'Show crossings'],
  ])('the button in %s says %s', async (build, label) =>
    expect((await visitor(build)('/booking/')).text).toContain(`<button>${label}</button>`),
  )
  test('a refused card can be tried again, one that asks to be confirmed is confirmed', async () => {
    const ask = visitor('2026.11.1')
    const { at, text } = await ask('/booking/details', {
      sailing: `SKE-TOL-${FAR}-0940`,
      passengers: '2',
      lead: 'Isla Fenwick',
      cabin: 'No cabin',
    })
    const reference = /FS-\d+/.exec(at)![0]
    expect(total(text)).toBe('28.80')
    expect(
      (await ask(`/booking/payments/${reference}`, { card: '4000000000000002', code: '737' })).text,
    ).toContain('The card was refused')
    expect(
      (await ask(`/booking/payments/${reference}`, { card: '5555000011112227', code: '737' })).text,
    ).toContain('aria-label="Confirm your card"')
    expect((await ask(`/booking/confirm/${reference}`, {})).text).toContain('Your crossing is booked')
  })
  test('names are text, never markup', async () => {
    const ask = visitor('2026.11.1')
    const { text } = await ask('/booking/details', {
      sailing: `SKE-TOL-${FAR}-0940`,
      passengers: '1',
      lead: '<script>x</script>',
      cabin: 'No cabin',
    })
    expect(text).not.toContain('<script>x')
  })
})

describe('desk, gate and manifest', () => {
  const signIn = async (ask: Visitor) => {
    await ask('/desk/sign-out', {})
    await ask('/desk/take-over?account=clerk', {})
    return ask('/desk/sign-in', { account: 'clerk', password: 'harbour-12' })
  }
  test.each([
    ['2026.11.1', 200],
    ['2026.11.2', 500],
    ['2026.11.3', 200],
  ])('a refund over 400 in %s answers %d', async (build, status) => {
    const ask = visitor(build)
    const reference = await book(ask, {
      passengers: '9',
      isReturn: true,
      to: 'LIT',
      time: '2210',
      extra: { cabin: 'Cabin for two', extra: 'car' },
    })
    await signIn(ask)
    expect(
      (await ask(`/desk/bookings/${reference}/refund`, { amount: '401', reason: 'Booked twice' })).status,
    ).toBe(status)
    expect(
      (await ask(`/desk/bookings/${reference}/refund`, { amount: '20', reason: 'Booked twice' })).text,
    ).toContain('20.00 will be paid back')
  })
  test('one account, one desk: a second sign-in is told', async () => {
    const [first, second] = [visitor('2026.11.1'), visitor('2026.11.1')]
    await signIn(first)
    await second('/desk/sign-out', {})
    expect((await second('/desk/sign-in', { account: 'clerk', password: 'harbour-12' })).text).toContain(
      'aria-label="Signed in elsewhere"',
    )
    await second('/desk/take-over?account=clerk', {})
    expect((await second('/desk/sign-in', { account: 'clerk', password: 'harbour-12' })).text).toContain(
      'Find a booking',
    )
    expect((await first('/desk/bookings')).text).toContain('Sign in')
  })
  test('a reference boards once, is counted, and is in the manifest', async () => {
    const ask = visitor('2026.11.1')
    const reference = await book(ask, { passengers: '2' })
    expect((await ask(`/gate/passengers/${reference}/board`, {})).text).toContain('On board')
    expect((await ask(`/gate/passengers/${reference}/board`, {})).text).toContain('Already on board')
    const manifest = JSON.parse((await ask(`/manifest/api/passages/${reference}`)).text) as {
      headcount: number
      weightKg: number
      passengers: { ref: string; state: string }[]
    }
    expect(manifest.passengers).toContainEqual({
      ref: reference,
      lead: 'Isla Fenwick',
      passengers: 2,
      state: 'boarded',
    })
    expect(manifest.weightKg).toBeGreaterThanOrEqual(manifest.headcount * 82)
  })
  test.each([
    ['2026.11.2', false],
    ['2026.11.3', true],
    ['2026.11.4', false],
  ])('the notice of the gate in %s covers the buttons on narrow screens: %s', async (build, covers) => {
    const ask = visitor(build)
    const { text } = await ask(`/gate/passengers/${await book(ask)}`)
    expect(/footer\.shore-notice \{\s+position: fixed/.test(text)).toBe(covers)
  })
  test('a build that was never made, and a path that leads nowhere', async () => {
    expect((await fetch(`${base}/b/2026.12.9/booking/`)).status).toBe(404)
    expect((await visitor('2026.11.1')('/gate/nothing')).status).toBe(404)
  })
})
