/** Every refusal the product gives, with its status and title in one place. */
export const PROBLEMS = {
  SIGN_IN_WRONG: { status: 401, title: 'The name or the password is not right' },
  SIGN_IN_WAIT: { status: 429, title: 'Too many tries failed' },
  CODE_MISSING: { status: 401, title: 'The code of your second factor is needed too' },
  CODE_WRONG: { status: 401, title: 'The code is not right, or was used before' },
  PASSWORD_WRONG: { status: 403, title: 'The password is not right' },
  PASSWORD_WEAK: { status: 422, title: 'Another password is needed' },
  LINK_OVER: { status: 410, title: 'This link was used, or its time is over; ask for a new one' },
  LAST_ADMIN: { status: 409, title: 'Somebody has to be administrator; make another person one first' },
  SIGN_IN_FIRST: { status: 401, title: 'Sign in first' },
  TOKEN_UNKNOWN: { status: 401, title: 'The token is unknown or was revoked' },
  ROLE_TOO_LOW: { status: 403, title: 'Your role does not allow this' },
  ORIGIN_FOREIGN: { status: 403, title: 'The request comes from another site' },
  NOT_FOUND: { status: 404, title: 'There is no such thing here' },
  BODY_INVALID: { status: 400, title: 'What was sent does not have the expected form' },
  BODY_TOO_LARGE: { status: 413, title: 'What was sent is larger than allowed' },
  UNSTORABLE: { status: 422, title: 'What was sent cannot be stored' },
  DATABASE_AWAY: { status: 503, title: 'The database does not answer; try again in a moment' },
  TOOK_TOO_LONG: { status: 503, title: 'This took longer than it may; nothing was changed' },
  BUSY: { status: 503, title: 'Too much of this is under way; try again in a moment' },
  TOOK_TOO_MUCH: { status: 422, title: 'This takes more memory than it may; nothing was changed' },
  TOO_SLOW: { status: 408, title: 'What was to be sent did not come in time' },
  EVIDENCE_DIFFERS: { status: 400, title: 'The bytes do not have the hash they were sent under' },
  STORE_FULL: { status: 507, title: 'The evidence folder is full' },
  STORE_AWAY: { status: 503, title: 'The evidence folder cannot be written' },
  LEASE_LOST: { status: 409, title: 'The lease no longer holds this attempt; drop the result' },
  AGENT_NAME_TAKEN: { status: 409, title: 'Another token registered an agent of this name' },
  ENVIRONMENT_NOT_GIVEN: { status: 403, title: 'The token is not for this environment' },
  PROTOCOL_UNSERVED: { status: 426, title: 'The server does not speak this agent protocol' },
  NOT_SET_UP: { status: 409, title: 'Something it needs is not set up' },
  NOTHING_TO_RUN: { status: 409, title: 'Nothing would run' },
  ENVIRONMENT_UNSERVED: { status: 409, title: 'No live agent serves an environment' },
  UNPLACEABLE: { status: 409, title: 'Some of it can be placed nowhere' },
  RUN_ENDED: { status: 409, title: 'The run has ended already' },
  NOT_PRINTED: { status: 503, title: 'It cannot be made into a PDF now' },
  CHANGED_MEANWHILE: { status: 409, title: 'Somebody else changed this in the meantime' },
  COLUMN_TAKEN: { status: 409, title: 'The table has a column of this name already' },
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
  DATABASE_ROLE_WRITES: { status: 422, title: 'The role of this database can do more than read' },
  DATABASE_UNREACHABLE: { status: 422, title: 'The database does not answer' },
  MAIL_REFUSED: { status: 422, title: 'The mail server does not let this product in' },
  TRACKER_DOWN: { status: 422, title: 'The tracker does not answer' },
  APPLICATION_DOWN: { status: 422, title: 'The application does not answer' },
  PATH_REFUSED: { status: 422, title: 'This is no place within the repository' },
  OUTGOING_REFUSED: { status: 422, title: 'This address is not asked' },
  REPOSITORY_UNREADABLE: { status: 409, title: 'The repository cannot be read' },
} as const satisfies Record<string, { status: number; title: string }>
export type ProblemCode = keyof typeof PROBLEMS

/** An expected refusal. `detail` goes to the client, so no secrets in it; `options.cause` goes to the log
 * only.
 * @param message a whole sentence for a person: what happened and what to do; the title stands in when there
 * is none */
export class Problem extends Error {
  readonly isProblem = true
  /** The server's own bundle and the one of Next.js each hold a copy of this class: a problem of one is a
   * problem to the other. */
  static override [Symbol.hasInstance](value: unknown): boolean {
    return value instanceof Error && 'isProblem' in value
  }
  constructor(
    readonly code: ProblemCode,
    message?: string,
    readonly detail?: unknown,
    options?: ErrorOptions,
  ) {
    super(message ?? PROBLEMS[code].title, options)
  }
  toJSON() {
    return {
      code: this.code,
      title: PROBLEMS[this.code].title,
      message: this.message,
      ...(this.detail !== undefined && { detail: this.detail }),
    }
  }
}
