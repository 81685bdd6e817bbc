'use client'
import { Tooltip } from 'radix-ui'

const DELAY_MS = 400

/** Says more about what it stands around: when somebody points at it, and when the tab key comes to it.
 * Escape takes it away.
 * @param text without it there is nothing to say
 * @param children one element that can have the focus */
export function Hint({ text, children }: { text?: React.ReactNode; children: React.ReactElement }) {
  if (!text) return children
  return (
    <Tooltip.Provider delayDuration={DELAY_MS}>
      <Tooltip.Root>
        <Tooltip.Trigger asChild>{children}</Tooltip.Trigger>
        <Tooltip.Portal>
          <Tooltip.Content
            sideOffset={5}
            collisionPadding={8}
            className="z-50 max-w-[300px] rounded-oak border border-line bg-raised px-2.5 py-1.5 text-xs text-ink shadow-lg"
          >
            {text}
          </Tooltip.Content>
        </Tooltip.Portal>
      </Tooltip.Root>
    </Tooltip.Provider>
  )
}

/** A word, or a few, that have something behind them. */
export function HintedWords({
  text,
  className = '',
  children,
}: {
  text: React.ReactNode
  className?: string
  children: React.ReactNode
}) {
  return (
    <Hint text={text}>
      <button type="button" className={`cursor-help ${className}`}>
        {children}
      </button>
    </Hint>
  )
}
