import Link from '@/ui/base/Link'
import { buttonLook } from '@/ui/base/button-look'
import { Empty } from '@/ui/base/Parts'

export default function NotFound() {
  return (
    <Empty
      title="There is no such thing here"
      action={
        <Link href="/" className={buttonLook('main')}>
          To Now
        </Link>
      }
    >
      The address may be mistyped, or what it named was removed.
    </Empty>
  )
}
