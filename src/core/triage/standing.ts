/** Groups as people see them: parts that were set apart, and causes that are taken for one. */
import type { FailureGroup } from './group'
import { standsAs, type Merges } from './merges'
import { isOfPart, splitSignature, type Split, type SplitFacts } from './splits'

export type StandingRules = { merges: Merges; splits: readonly Split[] }
type Named = { signature: string; title: string }

/** Groups with the parts that are set apart as groups of their own, and what is taken for one as one: called
 * as the one it is taken for where that has members, else as the first of them. Of several rules that fit a
 * failure the oldest counts. A part can be taken for another cause, or parted again; taken for what it was
 * set apart of, it is that.
 * @param factsOf of a member, by its id
 * @returns the largest first, all members of each in the order they came */
export function standingGroups(
  groups: readonly FailureGroup[],
  { merges, splits }: StandingRules,
  factsOf: (id: string) => SplitFacts,
): FailureGroup[] {
  const splitsOf = new Map<string, Split[]>()
  for (const rule of splits.toSorted((a, b) => a.id - b.id))
    splitsOf.set(rule.signature, [...(splitsOf.get(rule.signature) ?? []), rule])
  const found = new Map<string, FailureGroup>()
  const namedByItself = new Set<string>()
  for (const { members, ...group } of groups)
    for (const member of members) {
      const { signature, title, isItself } = standingOf(group, merges, splitsOf, () => factsOf(member))
      const known = found.get(signature)
      if (!known) found.set(signature, { ...group, signature, title, members: [member] })
      else {
        known.members.push(member)
        if (isItself && !namedByItself.has(signature)) known.title = title
      }
      if (isItself) namedByItself.add(signature)
    }
  return [...found.values()].toSorted((a, b) => b.members.length - a.members.length)
}

/** Follows the rules for one failure; each split counts once, so they have an end.
 * @returns where it ends; `isItself`: no merge has led there */
function standingOf(
  { signature, title }: Named,
  merges: Merges,
  splitsOf: ReadonlyMap<string, readonly Split[]>,
  facts: () => SplitFacts,
): Named & { isItself: boolean } {
  const used = new Set<Split>()
  for (;;) {
    const standing = standsAs(signature, merges)
    const rule = splitsOf.get(standing)?.find((one) => !used.has(one) && isOfPart(one, facts()))
    if (!rule) return { signature: standing, title, isItself: standing === signature }
    used.add(rule)
    title = `${title} (${rule.words})`
    signature = splitSignature(rule)
  }
}
