'use client'
import type { ButtonHTMLAttributes } from 'react'
import { buttonLook, type Look } from './button-look'
import { useNotLiveSince } from './live-state'

export { buttonLook } from './button-look'

/** What these do, the server does: they say so while it is away. */
const ASKING: readonly Look[] = ['main', 'danger']

/** `keyHint`: the single key that does the same. */
export function Button({
  look = 'plain',
  keyHint,
  className,
  children,
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & { look?: Look; keyHint?: string }) {
  const away = useNotLiveSince() !== undefined && (ASKING.includes(look) || rest.type === 'submit')
  return (
    <button
      type="button"
      className={buttonLook(look, className)}
      {...rest}
      {...(away && { disabled: true, title: 'The server does not answer now' })}
    >
      {children}
      {keyHint && <Key>{keyHint}</Key>}
    </button>
  )
}

export const Key = ({ children }: { children: React.ReactNode }) => (
  <kbd
    className="rounded-[4px] border border-line bg-ground px-1 font-mono text-[10.5px] leading-[15px] text-soft"
    aria-hidden
  >
    {children}
  </kbd>
)
