import type { Metadata } from 'next'
import { cookies } from 'next/headers'
import '@/ui/styles.css'

export const metadata: Metadata = { title: { default: 'Oak Rotation', template: '%s · Oak Rotation' }, icons: { icon: '/sign.svg' } }

export default async function Layout({ children }: { children: React.ReactNode }) {
  const theme = (await cookies()).get('oak-theme')?.value
  return (
    <html lang="en" {...((theme === 'paper' || theme === 'bark') && { 'data-theme': theme })} suppressHydrationWarning>
      <body>{children}</body>
    </html>
  )
}
