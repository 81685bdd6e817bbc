'use client'
import { PenLine, X } from 'lucide-react'
import { useState } from 'react'
import type { GuidedPicture } from '@/core/guided'
import { Button } from '../base/Button'
import { Dialog } from '../base/Dialog'
import { EvidenceImage } from '../base/EvidenceImage'
import { MarkUp } from '../markup/MarkUp'
import { keepBytes } from './pictures'
import { writtenOf } from './sheet-state'
import type { Sheet } from './useSheet'

/** Pictures that a step has: each can be cut, marked up, and taken away. */
export function KeptPictures({ id, sheet, disabled }: { id: string; sheet: Sheet; disabled: boolean }) {
  const { state, act } = sheet
  const { pictures } = writtenOf(state, state.selected)
  const [marking, setMarking] = useState<{ path: string; picture: GuidedPicture }>()
  const keep = async (bytes: string, note: string) => {
    const { path, picture } = marking!
    act({ do: 'swap-picture', path, hash: picture.hash, picture: await keepBytes(id, bytes), note })
    setMarking(undefined)
  }
  if (pictures.length === 0) return null
  return (
    <>
      <ul className="mt-2 flex gap-3">
        {pictures.map((picture, i) => (
          <li key={picture.hash} className="flex flex-col items-start gap-1">
            <EvidenceImage
              hash={picture.hash}
              alt={`Picture ${i + 1} of this step`}
              className="h-[110px] rounded-oak border border-line bg-ground object-contain"
            />
            {!disabled && (
              <span className="flex">
                <Button
                  look="quiet"
                  className="!h-7 !px-2"
                  aria-label={`Cut or mark up picture ${i + 1}`}
                  onClick={() => setMarking({ path: state.selected!, picture })}
                >
                  <PenLine size={13} aria-hidden /> Mark up
                </Button>
                <Button
                  look="quiet"
                  className="!h-7 !px-2"
                  aria-label={`Take picture ${i + 1} away`}
                  onClick={() => act({ do: 'drop-picture', hash: picture.hash })}
                >
                  <X size={13} aria-hidden />
                </Button>
              </span>
            )}
          </li>
        ))}
      </ul>
      {marking && (
        <Dialog open onClose={() => setMarking(undefined)} title="Cut or mark up the picture" wide="widest">
          <MarkUp screen={marking.picture} about={undefined} keepLabel="Keep in its place" onKeep={keep} />
        </Dialog>
      )}
    </>
  )
}
