'use client'
import { createContext, use } from 'react'
import type { PersonViewModel, Role } from '@/core/view-models'

/** Who is signed in, and what every view can do. */
export type FrameTools = {
  person: PersonViewModel
  /** Whether this person may what the role may. */
  may(role: Role): boolean
  /** Opens the start dialog. */
  start(suite?: string): void
}

const Tools = createContext<FrameTools | undefined>(undefined)
export const ToolsProvider = Tools.Provider

const RANK: Role[] = ['viewer', 'tester', 'coordinator', 'admin']

export const toolsOf = (person: PersonViewModel, start: FrameTools['start']): FrameTools => ({
  person,
  may: (role) => RANK.indexOf(person.role) >= RANK.indexOf(role),
  start,
})

/** @throws outside of the frame */
export function useFrame(): FrameTools {
  const tools = use(Tools)
  if (!tools) throw new Error('useFrame is used outside of <Frame>')
  return tools
}
