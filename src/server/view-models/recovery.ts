import type { RecoveryViewModel } from '@/core/view-models'
import { listQuarantines } from '@/db/recovery'
import type { Context } from '../context'
import { loadLibrary } from '../definitions'
import { workspacePolicy } from '../recovery'

/** The policies, what each is attached to, and what is in quarantine. */
export async function recoveryViewModel(ctx: Context): Promise<RecoveryViewModel> {
  const [library, workspace, quarantined] = await Promise.all([
    loadLibrary(ctx),
    workspacePolicy(ctx),
    listQuarantines(ctx.db),
  ])
  const named = (key: string) => {
    const at = (
      kind: 'case' | 'suite' | 'rotation',
      list: Iterable<{ key: string; title: string; policy?: string }>,
    ) =>
      [...list]
        .filter(({ policy }) => policy === key)
        .map((one) => ({ kind, key: one.key, title: one.title }))
    return [
      ...at('rotation', library.rotations.values()),
      ...at('suite', library.suites.values()),
      ...at('case', library.cases.values()),
    ]
  }
  return {
    policies: [...library.policies.values()]
      .sort((a, b) => a.title.localeCompare(b.title))
      .map(({ key, title, rules }) => ({
        key,
        title,
        rules: rules.length,
        attached: named(key),
        workspace: workspace === key,
      })),
    quarantined: quarantined.map(({ caseKey, until, because, setBy }) => ({
      caseKey,
      title: library.case(caseKey)?.title ?? caseKey,
      until: until.toISOString(),
      over: until.getTime() < Date.now(),
      because,
      setBy,
    })),
    cases: library.allCases().map(({ key, title }) => ({ key, title })),
    routines: [...library.routines.values()].map(({ key, title }) => ({ key, title })),
  }
}
