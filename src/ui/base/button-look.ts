import { clsx } from 'clsx'

export type Look = 'main' | 'plain' | 'quiet' | 'danger'
const LOOKS: Record<Look, string> = {
  main: 'bg-act text-act-ink border-transparent hover:brightness-110',
  plain: 'bg-raised text-ink border-line hover:border-faint',
  quiet: 'bg-transparent text-soft border-transparent hover:text-ink hover:bg-act-wash',
  danger: 'bg-raised text-failed border-line hover:border-failed',
}

export const buttonLook = (look: Look = 'plain', className = '') =>
  clsx(
    'inline-flex h-[30px] shrink-0 items-center gap-1.5 rounded-oak border px-3 text-sm font-medium ' +
      'whitespace-nowrap transition-colors disabled:opacity-50 aria-disabled:cursor-default ' +
      'aria-disabled:opacity-50',
    LOOKS[look],
    className,
  )
