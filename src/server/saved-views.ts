/** Views of a page that people keep under a name: everybody sees them. */
import { VIEWED_PAGES, type SavedView, type ViewedPage } from '@/core/view-models'
import { note } from '@/db/audit'
import { notify } from '@/db/notify'
import { dropView, keepView, savedViewsOf } from '@/db/saved-views'
import type { Context } from './context'
import { Problem } from './http/problems'
import { validator, type BodyOf } from './http/validator'

const VIEWS_MOST = 100

export const savedViewBody = validator({
  type: 'object',
  additionalProperties: false,
  required: ['name', 'query'],
  properties: {
    name: { type: 'string', minLength: 1, maxLength: 80, pattern: '\\S' },
    query: { type: 'string', maxLength: 1000 },
  },
})

/** @throws {Problem} NOT_FOUND: no views are kept of such a page */
export function readViewedPage(asked: string): ViewedPage {
  const page = VIEWED_PAGES.find((one) => one === asked)
  if (!page) throw new Problem('NOT_FOUND', 'No views are kept of such a page.')
  return page
}

export const savedViewsViewModel = ({ db }: Pick<Context, 'db'>, page: ViewedPage): Promise<SavedView[]> =>
  savedViewsOf(db, page, VIEWS_MOST)

/** In place of the one with that name. @throws {Problem} BODY_INVALID: there are too many */
export async function saveView(
  ctx: Pick<Context, 'db'>,
  page: ViewedPage,
  { name, query }: BodyOf<typeof savedViewBody>,
  who: string,
): Promise<void> {
  const kept = name.trim()
  await ctx.db.transaction(async (tx) => {
    const there = await savedViewsOf(tx, page, VIEWS_MOST)
    if (there.length >= VIEWS_MOST && !there.some((one) => one.name === kept))
      throw new Problem('BODY_INVALID', `There are ${VIEWS_MOST} views: remove one first.`)
    await keepView(tx, { page, name: kept, query, savedBy: who })
    await note(tx, who, 'view.keep', kept, { page })
    await notify(tx, 'settings')
  })
}

/** @throws {Problem} NOT_FOUND */
export async function removeView(
  ctx: Pick<Context, 'db'>,
  page: ViewedPage,
  id: number,
  who: string,
): Promise<void> {
  await ctx.db.transaction(async (tx) => {
    const name = await dropView(tx, page, id)
    if (name === undefined) throw new Problem('NOT_FOUND', 'There is no such view any more.')
    await note(tx, who, 'view.remove', name, { page })
    await notify(tx, 'settings')
  })
}
