/** What is kept, and when it goes. */
import { sql } from 'drizzle-orm'
import type { EvidenceKind } from '@/core/model'
import type { Conn } from './client'
import type { Now } from './moment'
import { col, rowsOf } from './rows'

const DAY = sql`interval '1 day'`

/** Pieces by the week in which the last attempt that shows them loses them: 0 is within a week of now; all
 * later ones count as `weeksMost`; `null`: never. What a defect or a check of a screen holds, or somebody
 * pinned, never goes.
 * @param days of the workspace by kind; what is absent is kept for ever
 * @param graceDays how long what nothing shows stays */
export const goingByWeek = (
  db: Conn,
  days: Partial<Record<EvidenceKind, number>>,
  now: Now,
  { weeksMost, graceDays }: { weeksMost: number; graceDays: number },
): Promise<{ week: number | null; pieces: number; bytes: number }[]> =>
  rowsOf(
    db,
    { week: col.orNull(col.integer), pieces: col.integer, bytes: col.integer },
    sql`
    with held as materialized (
      select v->>'hash' as hash from defects d, jsonb_array_elements(d.evidence) v
      union select hash from accepted_screens),
    used as (
      select u.hash, max(case
        when a.ended_at is null or a.pinned_by is not null
          or exists (select from defects d where d.attempt_id = a.id) then 'infinity'::timestamptz
        else coalesce(a.ended_at + ${DAY} * coalesce((r.how->'keep'->>u.kind)::int,
          (${JSON.stringify(days)}::jsonb->>u.kind)::int), 'infinity'::timestamptz) end) as goes
      from evidence_uses u join attempts a on a.id = u.attempt_id join runs r on r.id = a.run_id
      group by u.hash),
    pieces as (
      select e.bytes, case when h.hash is not null then 'infinity'::timestamptz
        else greatest(coalesce(u.goes, '-infinity'::timestamptz), e.seen_at + ${DAY} * ${graceDays}::int) end as goes
      from evidence e left join used u on u.hash = e.hash left join held h on h.hash = e.hash
      where e.dropped_at is null)
    select case when goes = 'infinity' then null
        else least(${weeksMost}::int, greatest(0, floor(extract(epoch from goes - ${now}) / 604800)))::int end as week,
      count(*)::int as pieces, sum(bytes)::float8 as bytes
    from pieces group by 1 order by 1 nulls last`,
  )

/** What each kind takes; a screen that is of two kinds counts for both. */
export const evidenceByKind = (db: Conn): Promise<{ kind: EvidenceKind; pieces: number; bytes: number }[]> =>
  rowsOf(
    db,
    { kind: col.oneOf<EvidenceKind>(), pieces: col.integer, bytes: col.integer },
    sql`
    select u.kind, count(*)::int as pieces, sum(e.bytes)::float8 as bytes
    from (select distinct hash, kind from evidence_uses) u join evidence e on e.hash = u.hash
    group by u.kind order by u.kind`,
  )
