import type { Metadata } from 'next'
import { HelpView } from '@/ui/help/HelpView'

export const metadata: Metadata = { title: 'Help' }

type Props = { searchParams: Promise<Record<string, string | string[]>> }

export default async function Page({ searchParams }: Props) {
  const { page } = await searchParams
  return <HelpView chosen={typeof page === 'string' ? page : undefined} />
}
