'use client'
import dynamic from 'next/dynamic'
import { parseAsString, useQueryState } from 'nuqs'
import { useState } from 'react'
import type { RecoveryViewModel } from '@/core/view-models'
import { useViewModel } from '../api'
import { Button } from '../base/Button'
import { TitleLine } from '../base/Parts'
import { useFrame } from '../frame/tools'
import { PolicyBench } from './PolicyBench'

const NewPolicy = dynamic(() => import('./NewPolicy').then((module) => module.NewPolicy), { ssr: false })

/** Recovery policies: their rules as sentences, and what they did. */
export function RecoveryView({ initial }: { initial: RecoveryViewModel }) {
  const { data = initial } = useViewModel<RecoveryViewModel>(
    '/api/recovery',
    ['definitions', 'recovery'],
    initial,
  )
  const { may } = useFrame()
  const [wanted, setWanted] = useQueryState('policy', parseAsString.withOptions({ history: 'push' }))
  const [making, setMaking] = useState(false)
  const chosen =
    data.policies.find(({ key }) => key === wanted) ??
    data.policies.find(({ workspace }) => workspace) ??
    data.policies[0]
  const dialog = making && (
    <NewPolicy onMade={(key) => void setWanted(key)} onClose={() => setMaking(false)} />
  )
  if (chosen)
    return (
      <>
        {dialog}
        <PolicyBench
          key={chosen.key}
          line={chosen}
          viewModel={data}
          onChoose={(key) => void setWanted(key)}
          onNew={() => setMaking(true)}
        />
      </>
    )
  return (
    <>
      {dialog}
      <TitleLine title="Recovery" facts="no policy yet" />
      <div className="mx-auto mt-16 max-w-[520px] px-6 text-center">
        <h2 className="font-display text-xl">Put known upsets right by rule</h2>
        <p className="mt-2 text-soft">
          A storm notice over the page, a session somebody left signed in, a connection that is lost for a
          second: a policy says what is done about each, where the case goes on, and how often. A case that
          needed it ends as recovered, never silently as passed.
        </p>
        {may('tester') && (
          <div className="mt-4 flex justify-center">
            <Button look="main" onClick={() => setMaking(true)}>
              New policy
            </Button>
          </div>
        )}
      </div>
    </>
  )
}
