'use client'
import { useEffect, useEffectEvent, useRef } from 'react'

/** Kinds of input whose value is the text that was typed. */
const TEXTS = new Set(['text', 'search', 'email', 'password', 'url', 'tel'])
/** An input of one line drops line ends. */
const oneLine = (text: string) => text.replace(/[\r\n]/g, '')

/** Tells a controlled input what was typed before the page's scripts had come: it stands there, and nobody
 * has heard of it. (A text area is set back by React before anything can be read.)
 * @returns the ref of the input */
export function useTypedEarly({
  value,
  onChange,
}: Pick<React.ComponentProps<'input'>, 'value' | 'onChange'>): React.RefObject<HTMLInputElement | null> {
  const ref = useRef<HTMLInputElement>(null)
  const tell = useEffectEvent((input: HTMLInputElement) => {
    if (typeof value !== 'string' || !TEXTS.has(input.type)) return
    if (oneLine(input.value) === oneLine(value)) return
    onChange?.({ target: input, currentTarget: input } as React.ChangeEvent<
      HTMLInputElement,
      HTMLInputElement
    >)
  })
  useEffect(() => {
    if (ref.current) tell(ref.current)
  }, [])
  return ref
}
