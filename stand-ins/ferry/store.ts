/** The ferry line's own tables, in a schema of their own. */
import pg from 'pg'

const TABLES = `
create schema if not exists ferry;
create table if not exists ferry.sessions (id text primary key, number serial, build text not null,
    clerk text, clerk_since timestamptz, storm_seen boolean not null default false);
create index if not exists sessions_clerk on ferry.sessions (build, clerk) where clerk is not null;
create sequence if not exists ferry.reference_number start 40120;
create table if not exists ferry.bookings (
  reference text primary key, build text not null, sailing text not null, lead text not null,
    passengers int not null, is_return boolean not null,
  cabin text not null, extras text[] not null, total_cents int not null,
    refunded_cents int not null default 0, state text not null, created_at timestamptz not null default now());
create index if not exists bookings_sailing on ferry.bookings (build, sailing);`

/** Who checks the records may read them, and nothing else. The role is made by who starts this; without one
 * nobody reads. */
const READER = `
do $$ begin
  if exists (select from pg_roles where rolname = 'ferry_reader') then
    grant usage on schema ferry to ferry_reader;
    grant select on ferry.bookings to ferry_reader;
  end if;
end $$;`

export type Booking = {
  reference: string
  build: string
  sailing: string
  lead: string
  passengers: number
  is_return: boolean
  cabin: string
  extras: string[]
  total_cents: number
  refunded_cents: number
  state: 'draft' | 'booked' | 'boarded' | 'refused' | 'refunded'
}
export type Session = { id: string; number: number; build: string; clerk: string | null; storm_seen: boolean }

/** A signed-in clerk who does nothing for this long is signed out. */
const CLERK_MINUTES = 5

export class FerryStore {
  private constructor(private readonly pool: pg.Pool) {}

  static async open(url: string): Promise<FerryStore> {
    const pool = new pg.Pool({ connectionString: url, max: 6 })
    pool.on('error', () => {})
    await pool.query(TABLES)
    await pool.query(READER)
    return new FerryStore(pool)
  }
  close = () => this.pool.end()

  private async one<T extends object>(text: string, values: unknown[]): Promise<T | undefined> {
    return (await this.pool.query<T>(text, values)).rows[0]
  }

  async session(id: string | undefined, build: string): Promise<Session | undefined> {
    return id ? this.one('select * from ferry.sessions where id = $1 and build = $2', [id, build]) : undefined
  }
  async newSession(id: string, build: string): Promise<Session> {
    return (await this.one<Session>('insert into ferry.sessions (id, build) values ($1, $2) returning *', [
      id,
      build,
    ]))!
  }
  async setClerk(id: string, clerk: string | null): Promise<void> {
    await this.pool.query('update ferry.sessions set clerk = $2, clerk_since = now() where id = $1', [
      id,
      clerk,
    ])
  }
  async stormSeen(id: string): Promise<void> {
    await this.pool.query('update ferry.sessions set storm_seen = true where id = $1', [id])
  }
  /** Is this account at work in another session? */
  async elsewhere(clerk: string, session: Session): Promise<boolean> {
    const other = await this.one(
      `select 1 from ferry.sessions where build = $1 and clerk = $2 and id <> $3
        and clerk_since > now() - interval '${CLERK_MINUTES} min' limit 1`,
      [session.build, clerk, session.id],
    )
    return other !== undefined
  }
  async endElsewhere(clerk: string, session: Session): Promise<void> {
    await this.pool.query(
      'update ferry.sessions set clerk = null where build = $1 and clerk = $2 and id <> $3',
      [session.build, clerk, session.id],
    )
  }

  async addBooking(booking: Omit<Booking, 'reference' | 'refunded_cents' | 'state'>): Promise<string> {
    const row = await this.one<{ reference: string }>(
      `insert into ferry.bookings (reference, build, sailing, lead, passengers, is_return, cabin, extras,
        total_cents, state)
       values ('FS-' || nextval('ferry.reference_number'), $1, $2, $3, $4, $5, $6, $7, $8, 'draft')
         returning reference`,
      [
        booking.build,
        booking.sailing,
        booking.lead,
        booking.passengers,
        booking.is_return,
        booking.cabin,
        booking.extras,
        booking.total_cents,
      ],
    )
    return row!.reference
  }
  booking = (build: string, reference: string) =>
    this.one<Booking>('select * from ferry.bookings where build = $1 and reference = $2', [build, reference])
  async setState(reference: string, state: Booking['state']): Promise<void> {
    await this.pool.query('update ferry.bookings set state = $2 where reference = $1', [reference, state])
  }
  async refund(reference: string, cents: number): Promise<void> {
    await this.pool.query(
      `update ferry.bookings set refunded_cents = refunded_cents + $2, state = case
        when refunded_cents + $2 >= total_cents then 'refunded' else state end where reference = $1`,
      [reference, cents],
    )
  }
  async move(reference: string, sailing: string): Promise<void> {
    await this.pool.query('update ferry.bookings set sailing = $2 where reference = $1', [reference, sailing])
  }
  async remove(build: string, reference: string): Promise<boolean> {
    return (
      ((
        await this.pool.query('delete from ferry.bookings where build = $1 and reference = $2', [
          build,
          reference,
        ])
      ).rowCount ?? 0) > 0
    )
  }
  async ofSailing(build: string, sailing: string): Promise<Booking[]> {
    return (
      await this.pool.query<Booking>(
        `select * from ferry.bookings where build = $1 and sailing = $2 and state <> 'draft'
          order by reference`,
        [build, sailing],
      )
    ).rows
  }
}
