/** The harbour office's API: who is on a sailing, and what it weighs. */
import { sailingById } from './fares'
import { happens, slowMs, type Surprises } from './faults'
import { json, type Answer, type Ask } from './http'
import type { FerryStore, Session } from './store'

const PERSON_KG = 82
const CAR_KG = 1400

type Here = { ask: Ask; session: Session; store: FerryStore; seed: string; surprises: Surprises }

export async function manifest(here: Here): Promise<Answer> {
  const { ask, session, store, seed } = here
  const id = /^\/api\/sailings\/([A-Z0-9-]+)$/.exec(ask.path)?.[1]
  const ofBooking = /^\/api\/passages\/(FS-\d+)$/.exec(ask.path)?.[1]
  if (happens('slow-manifest', here))
    await new Promise((resolve) => setTimeout(resolve, slowMs(session.number, seed)))
  const sailingId = id ?? (ofBooking && (await store.booking(ask.build, ofBooking))?.sailing)
  const sailing = sailingId ? sailingById(sailingId) : undefined
  if (!sailing) return json({ error: 'no such sailing' }, 404)
  const bookings = await store.ofSailing(ask.build, sailing.id)
  const counted = bookings.filter(({ state }) => state === 'booked' || state === 'boarded')
  const headcount = counted.reduce((sum, booking) => sum + booking.passengers, 0)
  return json({
    sailing,
    headcount,
    weightKg: headcount * PERSON_KG + counted.filter(({ extras }) => extras.includes('car')).length * CAR_KG,
    passengers: bookings.map(({ reference, lead, passengers, state }) => ({
      ref: reference,
      lead,
      passengers,
      state,
    })),
  })
}
