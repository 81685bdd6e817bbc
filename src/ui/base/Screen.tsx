import { EvidenceImage } from './EvidenceImage'

/** A screen as it was, at the size it is given. Where there is none, the place stays. */
export function Screen({
  hash,
  alt,
  none,
  className = '',
}: {
  hash: string | null | undefined
  alt: string
  /** What stands there while there is none. */ none?: string
  className?: string
}) {
  if (!hash)
    return (
      <div className={`grid place-items-center bg-ground text-xs text-soft ${className}`} aria-hidden>
        {none}
      </div>
    )
  // A new element for a new screen: the old picture must not stand beside other words while the new one
  // loads.
  return (
    <EvidenceImage
      key={hash}
      hash={hash}
      alt={alt}
      loading="lazy"
      decoding="async"
      className={`block bg-ground object-cover object-top ${className}`}
    />
  )
}
