import { BenchPage, type BenchProps } from '../../bench'

export { benchMetadata as generateMetadata } from '../../bench'

export default function Page(props: BenchProps) {
  return <BenchPage kind="data" {...props} />
}
