'use client'
import NextLink, { useLinkStatus } from 'next/link'
import type { ComponentProps } from 'react'
import { OpeningLine } from './opening'

/** A link within the product. Nothing is fetched ahead (decision 0018); a line at the top of the window says
 * when the page takes its time. */
export default function Link({ children, ...props }: ComponentProps<typeof NextLink>) {
  return (
    <NextLink prefetch={false} {...props}>
      {children}
      <OnTheWay />
    </NextLink>
  )
}

const OnTheWay = () => useLinkStatus().pending && <OpeningLine />
