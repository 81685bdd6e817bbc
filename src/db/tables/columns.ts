/** Columns that many tables have. */
import { timestamp } from 'drizzle-orm/pg-core'

export const moment = (name: string) => timestamp(name, { withTimezone: true })
export const created = () => moment('created_at').notNull().defaultNow()
