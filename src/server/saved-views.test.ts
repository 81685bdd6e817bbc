import { sql } from 'drizzle-orm'
import { readViewedPage, removeView, savedViewBody, savedViewsViewModel, saveView } from './saved-views'
import { testContext, type TestContext } from './testing/context'

let ctx: TestContext
beforeAll(async () => void (ctx = await testContext()))
afterAll(() => ctx.end())
beforeEach(async () => void (await ctx.db.execute(sql`truncate saved_views`)))

test('a view is kept, kept anew under its name, and removed', async () => {
  await saveView(ctx, 'defects', { name: ' For the release ', query: 'severity=critical' }, 'Wren')
  await saveView(ctx, 'defects', { name: 'Drafts', query: 'place=draft' }, 'Joss')
  await saveView(ctx, 'defects', { name: 'For the release', query: 'severity=high' }, 'Joss')
  const views = await savedViewsViewModel(ctx, 'defects')
  expect(views).toMatchObject([
    { name: 'Drafts', query: 'place=draft', by: 'Joss' },
    { name: 'For the release', query: 'severity=high', by: 'Joss' },
  ])
  await removeView(ctx, 'defects', views[0]!.id, 'Wren')
  await expect(removeView(ctx, 'defects', views[0]!.id, 'Wren')).rejects.toMatchObject({ code: 'NOT_FOUND' })
  expect(await savedViewsViewModel(ctx, 'defects')).toHaveLength(1)
})

test('views are of pages that have them, and have a name', () => {
  expect(() => readViewedPage('settings')).toThrow('No views are kept of such a page.')
  expect(savedViewBody({ name: '  ', query: '' })).toBe(false)
  expect(savedViewBody({ name: 'x', query: 'y'.repeat(1001) })).toBe(false)
})

test('a hundred views are enough, and one of them may still be changed', async () => {
  await ctx.db.execute(
    sql`insert into saved_views (page, name, query, saved_by)
      select 'defects', 'view ' || i, '', 'Wren' from generate_series(1, 100) i`,
  )
  await expect(saveView(ctx, 'defects', { name: 'one more', query: '' }, 'Wren')).rejects.toMatchObject({
    code: 'BODY_INVALID',
  })
  await saveView(ctx, 'defects', { name: 'view 7', query: 'build=1' }, 'Wren')
  expect((await savedViewsViewModel(ctx, 'defects')).find(({ name }) => name === 'view 7')?.query).toBe(
    'build=1',
  )
})
