'use client'
import { useEffect, useEffectEvent, useRef } from 'react'

/** Kinds of input whose value is the text that was typed. */
const TEXTS = new Set(['text', 'search', 'email', 'password', 'url', 'tel'])
/** An input of one line drops line ends. */
const oneLine = (text: string) => text.replace(/[\r\n]/g, '')

/** What was typed into text areas before the page's scripts had come, by element: React sets a text area back
 * before anything can be read. Filled by the script of TypingNotes, which stands in the page itself. */
type Noted = { oakTyped?: WeakMap<Element, string> }

/** As `useTypedEarly`, of a text area. */
export function useTypedEarlyInArea({
  value,
  onChange,
}: Pick<
  React.ComponentProps<'textarea'>,
  'value' | 'onChange'
>): React.RefObject<HTMLTextAreaElement | null> {
  const ref = useRef<HTMLTextAreaElement>(null)
  const tell = useEffectEvent((area: HTMLTextAreaElement) => {
    const typed = (window as Noted).oakTyped?.get(area)
    if (typed === undefined || typeof value !== 'string' || typed === value) return
    area.value = typed
    onChange?.({ target: area, currentTarget: area } as React.ChangeEvent<
      HTMLTextAreaElement,
      HTMLTextAreaElement
    >)
  })
  useEffect(() => {
    if (ref.current) tell(ref.current)
  }, [])
  return ref
}

/** Tells a controlled input what was typed before the page's scripts had come: it stands there, and nobody
 * has heard of it.
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
