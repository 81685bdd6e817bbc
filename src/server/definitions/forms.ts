/** Forms of what git and files are called: never an option, never a way out of the folder. */
export const BRANCH = '^[A-Za-z0-9][A-Za-z0-9._/-]*$'
/** A path on the server's machine or an address git understands; never an option, never a helper program. */
export const LOCATION = {
  type: 'string',
  maxLength: 500,
  pattern: '^(/|https?://|ssh://|git@)[^\\s]+$',
} as const
export const FOLDER = {
  type: 'string',
  maxLength: 200,
  pattern: '^([A-Za-z0-9._-]+(/[A-Za-z0-9._-]+)*)?$',
  not: { type: 'string', pattern: '(^|/)\\.\\.?(/|$)' },
} as const
