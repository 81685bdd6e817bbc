/** Notes what is typed into text areas, from before other scripts of the page have come (typed-early.ts). */
export const NOTES_TYPING = `window.oakTyped = new WeakMap()
addEventListener('input', ({ target }) => {
  if (target instanceof HTMLTextAreaElement) window.oakTyped.set(target, target.value)
}, true)`

export function TypingNotes({ nonce }: { nonce: string | undefined }) {
  return <script nonce={nonce} suppressHydrationWarning dangerouslySetInnerHTML={{ __html: NOTES_TYPING }} />
}
