'use client'
import { useState, type ImgHTMLAttributes } from 'react'
import { evidenceUrl, whyUnreadable } from './evidence'

type Props = Omit<ImgHTMLAttributes<HTMLImageElement>, 'src'> & {
  hash: string
  alt: string
  ref?: React.Ref<HTMLImageElement>
}

/** A picture from the evidence store. Where it cannot be read, its place says why: the store may be away, or
 * the picture deleted. One with an empty `alt` is small, or described beside it: its place stays empty. */
export function EvidenceImage({ hash, alt, ref, className = '', style, ...rest }: Props) {
  const [failed, setFailed] = useState<{ hash: string; why: string }>()
  const fail = () => {
    setFailed({ hash, why: '' })
    void whyUnreadable(hash, 'This is no picture that can be shown.').then((why) => setFailed({ hash, why }))
  }
  if (failed?.hash === hash)
    return (
      <span
        {...(alt === '' ? { 'aria-hidden': true } : { role: 'img', 'aria-label': `${alt}: ${failed.why}` })}
        data-unreadable
        style={style}
        className={
          'grid min-h-6 min-w-8 place-items-center overflow-hidden bg-ground p-2 text-center text-xs ' +
          `text-soft ${className}`
        }
      >
        {alt === '' ? '' : failed.why}
      </span>
    )
  return (
    <img
      {...rest}
      // what failed before the page's scripts came is told to nobody: it is looked at when they have
      ref={(image) => {
        if (image?.complete && image.naturalWidth === 0) fail()
        if (typeof ref === 'function') return ref(image)
        if (ref) ref.current = image
        return undefined
      }}
      src={evidenceUrl(hash)}
      alt={alt}
      style={style}
      className={className}
      onError={fail}
    />
  )
}
