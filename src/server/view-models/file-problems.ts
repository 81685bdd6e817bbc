import type { FileProblem } from '@/core/model'
import type { RepositoryRow } from '@/db/definitions'

/** What the last reading of its repository said of a file. */
export const problemsOfFile = (
  repositories: readonly RepositoryRow[],
  { repositoryId, file }: { repositoryId: number | null; file: string },
): FileProblem[] =>
  (repositories.find(({ id }) => id === repositoryId)?.problems ?? []).filter(
    (problem) => problem.file === file,
  )
