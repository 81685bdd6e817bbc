/** A database of its own for a test file: a copy of one that was migrated once, with the tables of the real
 * queue. */
import { createHash } from 'node:crypto'
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import pg from 'pg'
import { CLAIM_FUNCTIONS } from '@/db/claim-function'
import { migrateDatabase } from '@/db/client'

const MIGRATIONS = join('src', 'db', 'migrations')
const TEMPLATE_LOCK = 0x0a4b02

/** @returns the address of a new, migrated database on this server */
export async function newDatabase(server: string, name: string): Promise<string> {
  const admin = new pg.Client({ connectionString: server })
  await admin.connect()
  try {
    const template = await ensureTemplate(admin, server)
    await admin.query(`create database ${name} template ${template}`)
  } finally {
    await admin.end()
  }
  return addressOf(server, name)
}

/** @param url as `newDatabase` gave it; whoever is still connected to it no longer is */
export async function dropDatabase(server: string, url: string): Promise<void> {
  const admin = new pg.Client({ connectionString: server })
  await admin.connect()
  try {
    await admin.query(`drop database if exists ${new URL(url).pathname.slice(1)} with (force)`)
  } finally {
    await admin.end()
  }
}

function addressOf(server: string, name: string): string {
  const url = new URL(server)
  url.pathname = `/${name}`
  return url.href
}

/** Made by the first test that asks, while the others wait. Its name says what it was made from, so that a
 * new migration makes a new one. It gets its name when it is complete: a test that was ended in the middle
 * leaves nothing that looks right. */
async function ensureTemplate(admin: pg.Client, server: string): Promise<string> {
  const name = `template_${fingerprint()}`
  await admin.query('select pg_advisory_lock($1)', [TEMPLATE_LOCK])
  try {
    const found = await admin.query('select 1 from pg_database where datname = $1', [name])
    if (found.rowCount) return name
    const unfinished = `unfinished_${name}`
    await admin.query(`drop database if exists ${unfinished} with (force)`)
    await admin.query(`create database ${unfinished}`)
    await migrateDatabase(addressOf(server, unfinished), MIGRATIONS)
    const { runMigrations } = await import('graphile-worker')
    await runMigrations({ connectionString: addressOf(server, unfinished) })
    await admin.query(`alter database ${unfinished} rename to ${name}`)
    return name
  } finally {
    await admin.query('select pg_advisory_unlock($1)', [TEMPLATE_LOCK])
  }
}

/** Of everything that a migrated database follows from. */
function fingerprint(): string {
  const hash = createHash('sha1')
  for (const file of readdirSync(MIGRATIONS)
    .filter((one) => one.endsWith('.sql'))
    .sort())
    hash.update(readFileSync(join(MIGRATIONS, file)))
  hash.update(CLAIM_FUNCTIONS)
  hash.update(readFileSync('package-lock.json')) // the version of the queue
  return hash.digest('hex').slice(0, 12)
}
