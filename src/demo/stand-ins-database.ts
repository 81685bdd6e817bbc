/** A database for the stand-ins alone: what plays the outside world sees nothing of the product's. */
import pg from 'pg'

/** Makes it and its two roles, or gives the roles their passwords again. What is the product's own is closed
 * to them.
 * @param url of the product's own database, on the same server
 * @param standIns of the new one, for the stand-ins themselves, who own it
 * @param reader of the same, for who may only read what they keep
 * @throws what PostgreSQL says where the product's role may make no others */
export async function makeStandInsDatabase(url: string, standIns: string, reader: string): Promise<void> {
  const databaseOf = (address: string) => new URL(address).pathname.slice(1)
  const owner = new URL(standIns).username
  const client = new pg.Client({ connectionString: url })
  await client.connect()
  try {
    const name = databaseOf(standIns)
    for (const { username: role, password } of [new URL(standIns), new URL(reader)]) {
      const known = (await client.query('select from pg_roles where rolname = $1', [role])).rowCount === 1
      const verb = known ? 'alter' : 'create'
      await client.query(
        `${verb} role ${client.escapeIdentifier(role)} login nosuperuser nocreatedb nocreaterole ` +
          `password ${client.escapeLiteral(password)}`,
      )
    }
    if ((await client.query('select from pg_database where datname = $1', [name])).rowCount === 0) {
      await client.query(
        `create database ${client.escapeIdentifier(name)} owner ${client.escapeIdentifier(owner)}`,
      )
    }
    await client.query(`revoke connect on database ${client.escapeIdentifier(databaseOf(url))} from public`)
  } finally {
    await client.end()
  }
}
