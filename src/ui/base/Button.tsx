'use client'
import type { ButtonHTMLAttributes } from 'react'
import { buttonLook, type Look } from './button-look'
import { Hint } from './Hint'
import { useNotLiveSince } from './live-state'

export { buttonLook } from './button-look'

/** What these do, the server does: they say so while it is away. */
const ASKING: readonly Look[] = ['main', 'danger']

type Props = Omit<ButtonHTMLAttributes<HTMLButtonElement>, 'title'> & {
  look?: Look
  /** The single key that does the same. */
  keyHint?: string
  /** What there is to say about it. One that is off and says why can still have the focus. */
  hint?: string | undefined
  ref?: React.Ref<HTMLButtonElement>
}

export function Button({ look = 'plain', keyHint, hint, className, children, disabled, ...rest }: Props) {
  const away = useNotLiveSince() !== undefined && (ASKING.includes(look) || rest.type === 'submit')
  const said = away ? 'The server does not answer now' : hint
  const off = away || disabled
  return (
    <Hint text={said}>
      <button type="button" className={buttonLook(look, className)} {...rest} {...(off && offProps(said))}>
        {children}
        {keyHint && <Key>{keyHint}</Key>}
      </button>
    </Hint>
  )
}

/** Off for clicks and for forms; without a word of why, for the tab key as well. */
const offProps = (said: string | undefined): ButtonHTMLAttributes<HTMLButtonElement> =>
  said ? { 'aria-disabled': true, onClick: (event) => event.preventDefault() } : { disabled: true }

export const Key = ({ children }: { children: React.ReactNode }) => (
  <kbd
    className="rounded-[4px] border border-line bg-ground px-1 font-mono text-[10.5px] leading-[15px] text-soft"
    aria-hidden
  >
    {children}
  </kbd>
)
