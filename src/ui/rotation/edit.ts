import type { Rotation } from '@/core/model'
import type { Edit, Path } from '@/core/model/editing'
import type { RotationViewModel } from '@/core/view-models'
import type { Foreseen } from './useOutlook'

/** What each band is given. `put` sets a field of the file; `undefined` takes it out. `edit`: any changes of
 * it, as one step of undo. */
export type BandProps = {
  rotation: Rotation
  viewModel: RotationViewModel
  foreseen: Foreseen
  editable: boolean
  put(path: Path, value: unknown): void
  edit(...edits: Edit[]): boolean
}
