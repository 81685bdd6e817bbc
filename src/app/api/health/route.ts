import { sql } from 'drizzle-orm'
import { context } from '@/server/context'

/** Answers when the database does. */
export async function GET(): Promise<Response> {
  const ok = await context().db.execute(sql`select 1`).then(() => true, () => false)
  return Response.json({ ok }, { status: ok ? 200 : 503 })
}
