import type { Metadata } from 'next'
import { cookies, headers } from 'next/headers'
import { StyleGuard } from '@/ui/frame/StyleGuard'
import { TypingNotes } from '@/ui/frame/TypingNotes'
import '@/ui/styles.css'

export const metadata: Metadata = {
  title: { default: 'Oak Rotation', template: '%s · Oak Rotation' },
  icons: { icon: '/sign.svg' },
}

export default async function Layout({ children }: { children: React.ReactNode }) {
  const nonce = (await headers()).get('x-nonce') ?? undefined
  const theme = (await cookies()).get('oak-theme')?.value
  return (
    <html
      lang="en"
      {...((theme === 'paper' || theme === 'bark') && { 'data-theme': theme })}
      suppressHydrationWarning
    >
      <head>
        <StyleGuard nonce={nonce} />
        <TypingNotes nonce={nonce} />
      </head>
      <body>{children}</body>
    </html>
  )
}
