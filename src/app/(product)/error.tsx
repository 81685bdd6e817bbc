'use client'
import { Button } from '@/ui/base/Button'
import { Empty } from '@/ui/base/Parts'

export default function ErrorPage({ reset }: { error: Error; reset: () => void }) {
  return (
    <Empty
      title="This view could not be drawn"
      action={
        <Button look="main" onClick={reset}>
          Try again
        </Button>
      }
    >
      Nothing was changed. The server’s log says more; if it stays so, tell whoever looks after this
      installation.
    </Empty>
  )
}
