/** Views that people keep under a name. */
import { and, asc, eq, sql } from 'drizzle-orm'
import type { SavedView, ViewedPage } from '@/core/view-models'
import type { Conn } from './client'
import { savedViews } from './schema'

const OF_VIEW = { id: savedViews.id, name: savedViews.name, query: savedViews.query, by: savedViews.savedBy }

export const savedViewsOf = (db: Conn, page: ViewedPage, most: number): Promise<SavedView[]> =>
  db
    .select(OF_VIEW)
    .from(savedViews)
    .where(eq(savedViews.page, page))
    .orderBy(asc(savedViews.name))
    .limit(most)

/** In place of the one with that name, where there is one. */
export const keepView = async (
  db: Conn,
  view: { page: ViewedPage; name: string; query: string; savedBy: string },
): Promise<void> =>
  void (await db
    .insert(savedViews)
    .values(view)
    .onConflictDoUpdate({
      target: [savedViews.page, savedViews.name],
      set: { query: view.query, savedBy: view.savedBy, savedAt: sql`now()` },
    }))

/** @returns its name; `undefined`: there is none */
export const dropView = async (db: Conn, page: ViewedPage, id: number): Promise<string | undefined> =>
  (
    await db
      .delete(savedViews)
      .where(and(eq(savedViews.page, page), eq(savedViews.id, id)))
      .returning({ name: savedViews.name })
  )[0]?.name
