/** Pieces of evidence, as the pages read them: the store may be away, or a piece deleted. */

/** Where a piece is read from. */
export const evidenceUrl = (hash: string) => `/api/evidence/${hash}`

/** A piece as text. @throws an error whose message tells why it cannot be read */
export async function readEvidence(hash: string): Promise<string> {
  const answer = await fetch(evidenceUrl(hash)).catch(() => {
    throw new Error('The server does not answer, so this cannot be read now.')
  })
  if (!answer.ok) throw new Error(await messageOf(answer))
  return answer.text()
}

/** Why a piece could not be shown, in a sentence.
 * @param otherwise what is said when it can be read: then it is not what it should be */
export async function whyUnreadable(hash: string, otherwise: string): Promise<string> {
  try {
    const answer = await fetch(evidenceUrl(hash), { headers: { range: 'bytes=0-0' } })
    return answer.ok ? otherwise : await messageOf(answer)
  } catch {
    return 'The server does not answer, so this cannot be shown now.'
  }
}

async function messageOf(answer: Response): Promise<string> {
  const { message } = (await answer.json().catch(() => ({}))) as { message?: string }
  return message ?? `It cannot be read: the server answered with ${answer.status}.`
}
