import { BenchPage, type BenchProps } from '../../bench-page'

export { benchMetadata as generateMetadata } from '../../bench-page'

export default function Page(props: BenchProps) {
  return <BenchPage kind="case" {...props} />
}
