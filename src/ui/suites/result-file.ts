export type TakenIn = {
  run: number
  address: string
  summary: { cases: number; outcomes: Record<string, number>; problems: { line: number; what: string }[] }
}

/** Sends a result file as it is. @param build that it is of; empty: nobody knows
 * @returns the run it became
 * @throws {Error} why it was refused, with the line */
export async function sendResults(file: File, build: string): Promise<TakenIn> {
  const query = new URLSearchParams({ name: file.name, ...(build !== '' && { build }) })
  const response = await fetch(`/api/results?${query}`, {
    method: 'POST',
    body: file,
    headers: { 'content-type': 'application/octet-stream' },
  }).catch(() => undefined)
  if (!response) throw new Error('The server does not answer. Nothing was taken in.')
  const answer = (await response.json()) as TakenIn | { message: string; detail?: { line?: number } }
  if ('run' in answer) return answer
  throw new Error(
    answer.detail?.line === undefined
      ? answer.message
      : `${file.name}, line ${answer.detail.line}: ${answer.message}. Nothing was taken in.`,
  )
}
