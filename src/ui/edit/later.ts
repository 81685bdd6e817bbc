'use client'
/** Parts of benches that come when they are needed: no bench shows them at first. */
import dynamic from 'next/dynamic'

export const SourcePane = dynamic(() => import('./SourcePane').then((module) => module.SourcePane), {
  ssr: false,
})
export const Versions = dynamic(() => import('./Versions').then((module) => module.Versions), { ssr: false })
export const EditConflictBand = dynamic(
  () => import('./EditConflict').then((module) => module.EditConflictBand),
  { ssr: false },
)
export const EditConflictDialog = dynamic(
  () => import('./EditConflict').then((module) => module.EditConflictDialog),
  { ssr: false },
)
export const RehearseDialog = dynamic(
  () => import('../bench/RehearseDialog').then((module) => module.RehearseDialog),
  { ssr: false },
)
