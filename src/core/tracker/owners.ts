/** Who answers for a defect: by rules, else by the application it is of. */

/** A rule fits where all that it names fits; empty: whatever it is. `folder`: of the case's file, with all
 * below it. */
export type OwnerRule = { application: string; tag: string; folder: string; name: string; mail: string }
/** `file`: of the case, as its repository has it; empty where it is not known. */
export type OwnedFacts = { application: string | null; tags: readonly string[]; file: string }
/** `because`: what it follows from, as words. */
export type Owner = { name: string; mail: string; because: string }

const foldersOf = (path: string): string[] => path.split('/').filter((part) => part !== '' && part !== '.')

const isWithin = (file: string, folder: string): boolean => {
  const [parts, wanted] = [foldersOf(file).slice(0, -1), foldersOf(folder)]
  return wanted.length <= parts.length && wanted.every((part, i) => parts[i] === part)
}

/** @param rules the first that fits counts
 * @param applications who answers for each, where no rule fits
 * @returns `null`: nobody is named */
export function ownerOf(
  rules: readonly OwnerRule[],
  { application, tags, file }: OwnedFacts,
  applications: readonly { key: string; title: string; owner: string; mail: string }[],
): Owner | null {
  const rule = rules.find(
    (one) =>
      (one.application === '' || one.application === application) &&
      (one.tag === '' || tags.includes(one.tag)) &&
      (foldersOf(one.folder).length === 0 || isWithin(file, one.folder)),
  )
  const own = applications.find(({ key }) => key === application)
  if (rule) return { name: rule.name, mail: rule.mail, because: reasonOf(rule, own?.title ?? '') }
  if (!own || (own.owner === '' && own.mail === '')) return null
  return { name: own.owner, mail: own.mail, because: `it is of ${own.title}` }
}

function reasonOf({ application, tag, folder }: OwnerRule, title: string): string {
  const parts = [
    application !== '' && `it is of ${title || application}`,
    tag !== '' && `the case has the tag ${tag}`,
    folder !== '' && `the case is in ${foldersOf(folder).join('/')}`,
  ].filter((part) => part !== false)
  return parts.join(', ') || 'it is the rule for all that no other fits'
}

/** What is wrong with rules, each with the number of its rule, from 1. */
export function ownerProblems(rules: readonly OwnerRule[]): string[] {
  return rules.flatMap(({ application, tag, folder, name, mail }, i) => {
    const at = `Rule ${i + 1}`
    if (name.trim() === '' && mail.trim() === '') return [`${at} names nobody: a name or an address.`]
    if (mail !== '' && !/^[^@\s,<>]+@[^@\s,<>]+$/.test(mail)) return [`${at}: “${mail}” is no address.`]
    const isForAll = application === '' && tag === '' && foldersOf(folder).length === 0
    if (isForAll && i < rules.length - 1) return [`${at} fits everything: those after it are never asked.`]
    return []
  })
}
