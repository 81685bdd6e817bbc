import { sql } from 'drizzle-orm'
import type { FinderHit } from '@/core/view-models'
import type { Conn } from './client'
import { col, rowsOf } from './rows'

/** Cases, suites, rotations, runs, defects and agents whose title or key holds all the words; one query. */
export async function find(db: Conn, text: string, most: number): Promise<FinderHit[]> {
  const pattern = `%${text
    .replace(/[\\%_]/g, '\\$&')
    .split(/\s+/)
    .join('%')}%`
  return rowsOf(
    db,
    { kind: col.oneOf<FinderHit['kind']>(), title: col.text, detail: col.text, href: col.text },
    sql`
    select kind, title, detail, href from (
      select 1 as rank, kind, title, file as detail, case kind when 'suite' then '/suites?suite=' || key
        when 'rotation' then '/rotations/' || key when 'policy' then '/recovery?policy=' || key
        else '/suites?case=' || key end as href, changed_at as at
        from definitions where kind in ('case', 'suite', 'rotation', 'policy')
          and (title ilike ${pattern} or key ilike ${pattern})
      union all select 2, 'run', title, 'build ' || build, '/runs/' || id, created_at from runs
        where title ilike ${pattern} or build ilike ${pattern}
      union all select 3, 'defect', coalesce(tracker_number || ' ', '') || title, state,
        '/defects?id=' || id, created_at from defects where title ilike ${pattern}
        or tracker_number ilike ${pattern}
      union all select 4, 'agent', name, pool, '/fleet?agent=' || name, heartbeat_at from agents
        where name ilike ${pattern}
    ) hits order by rank, at desc limit ${most}`,
  )
}
