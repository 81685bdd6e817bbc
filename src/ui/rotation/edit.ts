import type { Rotation } from '@/core/model'
import type { Path } from '@/core/model/editing'
import type { RotationViewModel } from '@/core/view-models'
import type { Foreseen } from './useOutlook'

/** What each band is given. `put` sets a field of the file; `undefined` takes it out. */
export type BandProps = {
  rotation: Rotation
  viewModel: RotationViewModel
  foreseen: Foreseen
  editable: boolean
  put(path: Path, value: unknown): void
}
