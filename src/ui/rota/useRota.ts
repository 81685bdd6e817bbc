'use client'
import { useQueryClient } from '@tanstack/react-query'
import { toast } from 'sonner'
import { api, type ApiProblem } from '../api'

export type Change =
  { move: { at: string; to: string; series: boolean } } | { pool: string } | { paused: boolean }

/** Changes a rotation from the rota, with a way back: the version before is put back. */
export function useRotaChange(): (rotation: string, change: Change, said: string) => Promise<boolean> {
  const client = useQueryClient()
  const again = () =>
    client.invalidateQueries({ predicate: ({ queryKey }) => String(queryKey[0]).startsWith('/api/rota') })
  return async (rotation, change, said) => {
    try {
      const { before } = await api<{ version: number; before: number }>(`/api/rotations/${rotation}/rota`, {
        method: 'POST',
        body: change,
      })
      await again()
      const undo = async () => {
        try {
          await api(`/api/definitions/rotation/${rotation}/versions/${before}/restore`, { method: 'POST' })
          await again()
          toast('It is as it was')
        } catch (error) {
          toast.error((error as ApiProblem).message)
        }
      }
      toast(said, { duration: 12_000, action: { label: 'Undo', onClick: () => void undo() } })
      return true
    } catch (error) {
      toast.error((error as ApiProblem).message)
      return false
    }
  }
}
