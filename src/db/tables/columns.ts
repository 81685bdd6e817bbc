/** Columns that many tables have. */
import { customType, timestamp } from 'drizzle-orm/pg-core'

export const moment = (name: string) => timestamp(name, { withTimezone: true })
export const bytes = customType<{ data: Buffer }>({ dataType: () => 'bytea' })
export const created = () => moment('created_at').notNull().defaultNow()
