/** Forms of what git and files are called: never an option, never a way out of the folder. */
export const BRANCH = '^[A-Za-z0-9][A-Za-z0-9._/-]*$'
export const FOLDER = {
  type: 'string',
  maxLength: 200,
  pattern: '^([A-Za-z0-9._-]+(/[A-Za-z0-9._-]+)*)?$',
  not: { type: 'string', pattern: '(^|/)\\.\\.?(/|$)' },
} as const
