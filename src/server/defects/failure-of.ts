const UUID = { type: 'string', pattern: '^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$' } as const

/** The failure that a defect is of, by one of both: an attempt, or a case run that a result file told. */
export const FAILURE_OF = { attemptId: UUID, caseRunId: UUID } as const
export type FailureOf = { attemptId?: string | undefined; caseRunId?: string | undefined }
