/** People and their sessions, in the shape the sign-in library (better-auth) reads and writes. */
import { bigint, boolean, index, integer, pgTable, primaryKey, text, timestamp } from 'drizzle-orm/pg-core'

const moment = (name: string) => timestamp(name, { withTimezone: true })

export const ROLES = ['viewer', 'tester', 'coordinator', 'admin'] as const
export type RoleName = (typeof ROLES)[number]

export const STATES = ['invited', 'active', 'deactivated'] as const
export type PersonState = (typeof STATES)[number]

export const user = pgTable('user', {
  id: text('id').primaryKey(),
  name: text('name').notNull(),
  email: text('email').notNull().unique(),
  emailVerified: boolean('email_verified').notNull().default(false),
  image: text('image'),
  username: text('username').unique(),
  displayUsername: text('display_username'),
  role: text('role', { enum: ROLES }).notNull().default('viewer'),
  /** `invited`: has not set a password yet; `deactivated`: may not sign in. */
  state: text('state', { enum: STATES }).notNull().default('active'),
  createdAt: moment('created_at').notNull().defaultNow(),
  updatedAt: moment('updated_at').notNull().defaultNow(),
})

export const session = pgTable(
  'session',
  {
    id: text('id').primaryKey(),
    token: text('token').notNull().unique(),
    userId: text('user_id')
      .notNull()
      .references(() => user.id, { onDelete: 'cascade' }),
    expiresAt: moment('expires_at').notNull(),
    ipAddress: text('ip_address'),
    userAgent: text('user_agent'),
    createdAt: moment('created_at').notNull().defaultNow(),
    updatedAt: moment('updated_at').notNull().defaultNow(),
  },
  (table) => [index('session_user').on(table.userId)],
)

export const account = pgTable(
  'account',
  {
    id: text('id').primaryKey(),
    accountId: text('account_id').notNull(),
    providerId: text('provider_id').notNull(),
    userId: text('user_id')
      .notNull()
      .references(() => user.id, { onDelete: 'cascade' }),
    accessToken: text('access_token'),
    refreshToken: text('refresh_token'),
    idToken: text('id_token'),
    accessTokenExpiresAt: moment('access_token_expires_at'),
    refreshTokenExpiresAt: moment('refresh_token_expires_at'),
    scope: text('scope'),
    password: text('password'),
    createdAt: moment('created_at').notNull().defaultNow(),
    updatedAt: moment('updated_at').notNull().defaultNow(),
  },
  (table) => [index('account_user').on(table.userId)],
)

export const verification = pgTable('verification', {
  id: text('id').primaryKey(),
  identifier: text('identifier').notNull(),
  value: text('value').notNull(),
  expiresAt: moment('expires_at').notNull(),
  createdAt: moment('created_at').notNull().defaultNow(),
  updatedAt: moment('updated_at').notNull().defaultNow(),
})

/** Links by which a person sets a password: at first, or again. The link itself is stored as a hash. */
export const invitations = pgTable(
  'invitations',
  {
    hash: text('hash').primaryKey(),
    userId: text('user_id')
      .notNull()
      .references(() => user.id, { onDelete: 'cascade' }),
    purpose: text('purpose', { enum: ['invite', 'reset'] }).notNull(),
    createdBy: text('created_by').notNull(),
    expiresAt: moment('expires_at').notNull(),
  },
  (table) => [index('invitations_of').on(table.userId)], // a new link takes the place of an older one
)

/** Second factors (RFC 6238). A secret that was not confirmed by a code yet counts for nothing. */
export const secondFactors = pgTable('second_factors', {
  userId: text('user_id')
    .primaryKey()
    .references(() => user.id, { onDelete: 'cascade' }),
  sealedSecret: text('sealed_secret').notNull(),
  confirmedAt: moment('confirmed_at'),
  /** The newest time step a code was taken of: no code is taken twice. */
  lastStep: bigint('last_step', { mode: 'number' }).notNull().default(0),
  /** Hashes of codes for when the device is lost; each is good once. */
  recovery: text('recovery').array().notNull().default([]),
})

/** Failed tries to sign in, by whom and from where, as hashes; what did not fail for a day is forgotten. */
export const signInTries = pgTable(
  'sign_in_tries',
  {
    kind: text('kind', { enum: ['pair', 'address', 'account'] }).notNull(),
    key: text('key').notNull(),
    failures: integer('failures').notNull(),
    lastAt: moment('last_at').notNull(),
  },
  (table) => [primaryKey({ columns: [table.kind, table.key] })],
)
