/** Every refusal the product gives, with its status and title in one place. */
export const PROBLEMS = {
  SIGN_IN_FIRST: { status: 401, title: 'Sign in first' },
  TOKEN_UNKNOWN: { status: 401, title: 'The token is unknown or was revoked' },
  ROLE_TOO_LOW: { status: 403, title: 'Your role does not allow this' },
  ORIGIN_FOREIGN: { status: 403, title: 'The request comes from another site' },
  NOT_FOUND: { status: 404, title: 'There is no such thing here' },
  BODY_INVALID: { status: 400, title: 'What was sent does not have the expected form' },
  BODY_TOO_LARGE: { status: 413, title: 'What was sent is larger than allowed' },
  EVIDENCE_DIFFERS: { status: 400, title: 'The bytes do not have the hash they were sent under' },
  STORE_FULL: { status: 507, title: 'The evidence folder is full' },
  STORE_AWAY: { status: 503, title: 'The evidence folder cannot be written' },
  LEASE_LOST: { status: 409, title: 'The lease no longer holds this attempt; drop the result' },
  AGENT_NAME_TAKEN: { status: 409, title: 'Another token registered an agent of this name' },
  PROTOCOL_UNSERVED: { status: 426, title: 'The server does not speak this agent protocol' },
  NOTHING_TO_RUN: { status: 409, title: 'Nothing would run' },
  ENVIRONMENT_UNSERVED: { status: 409, title: 'No live agent serves an environment' },
  UNPLACEABLE: { status: 409, title: 'Some of it can be placed nowhere' },
  RUN_ENDED: { status: 409, title: 'The run has ended already' },
  CHANGED_MEANWHILE: { status: 409, title: 'Somebody else changed this in the meantime' },
  NAME_TAKEN: { status: 409, title: 'There is one of this name already' },
  DEFINITION_BROKEN: { status: 422, title: 'The text does not say a sound case, routine, suite or table' },
  KEY_CHANGED: { status: 422, title: 'The key of a definition stays' },
  IN_REPOSITORY: { status: 409, title: 'It is kept in a repository' },
  NOTHING_TO_COMMIT: { status: 409, title: 'Nothing was edited here, so there is nothing to commit' },
  EDITS_WAIT: { status: 409, title: 'Edits would be lost' },
  REPOSITORY_CONFLICT: { status: 409, title: 'Files changed in the repository too' },
  REPOSITORY_REFUSED: { status: 409, title: 'The repository did not take the commit' },
  RESULT_REFUSED: { status: 422, title: 'The result file cannot be taken in' },
  ARCHIVE_BROKEN: { status: 422, title: 'The archive cannot be read' },
  SIGNATURE_WRONG: { status: 401, title: 'The signature is not right' },
  DATABASE_UNREACHABLE: { status: 422, title: 'The database does not answer' },
  REPOSITORY_UNREADABLE: { status: 409, title: 'The repository cannot be read' },
} as const satisfies Record<string, { status: number; title: string }>
export type ProblemCode = keyof typeof PROBLEMS

/** An expected refusal. `detail` goes to the client, so no secrets in it; `options.cause` goes to the log only.
 * @param message a whole sentence for a person: what happened and what to do; the title stands in when there is none */
export class Problem extends Error {
  constructor(readonly code: ProblemCode, message?: string, readonly detail?: unknown, options?: ErrorOptions) {
    super(message ?? PROBLEMS[code].title, options)
  }
  toJSON() {
    return { code: this.code, title: PROBLEMS[this.code].title, message: this.message, ...(this.detail !== undefined && { detail: this.detail }) }
  }
}
