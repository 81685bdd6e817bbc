'use client'

export type Theme = 'paper' | 'bark'
const YEAR_S = 31_536_000

/** Sets the theme for this browser; `undefined` follows the system again. A cookie, so that the server draws
 * it right at once. */
export function setTheme(theme: Theme | undefined): void {
  document.cookie = `oak-theme=${theme ?? ''}; path=/; max-age=${theme ? YEAR_S : 0}; samesite=lax`
  if (theme) document.documentElement.dataset.theme = theme
  else delete document.documentElement.dataset.theme
}
