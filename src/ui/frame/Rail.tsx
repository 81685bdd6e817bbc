'use client'
import Link from '../base/Link'
import { usePathname } from 'next/navigation'
import { useRouter } from '../base/opening'
import { DropdownMenu } from 'radix-ui'
import type { PersonViewModel } from '@/core/view-models'
import { KeysHelp } from './keys'
import { setTheme } from './theme'
import { ALL_PLACES, placeOf, type Place } from './views'

function RailLink({ place: { name, path, icon: Icon }, here }: { place: Place; here: boolean }) {
  return (
    <Link
      href={path}
      aria-current={here ? 'page' : undefined}
      className={
        'flex w-full flex-col items-center gap-1 rounded-oak py-2 text-[11px] leading-[14px] ' +
        `text-rail-ink ${here ? 'bg-rail-on font-semibold' : 'hover:bg-rail-on'}`
      }
    >
      <Icon size={17} strokeWidth={1.7} aria-hidden />
      {name}
    </Link>
  )
}

/** Growth rings, open towards the newest. */
function Sign() {
  return (
    <svg
      viewBox="0 0 40 40"
      width="38"
      height="38"
      className="text-[#c9a45c]"
      aria-hidden
      fill="none"
      stroke="currentColor"
      strokeLinecap="round"
    >
      <circle cx="20" cy="20" r="2.2" fill="currentColor" stroke="none" />
      <path d="M25.5 20a5.5 5.5 0 1 1-3-4.9" strokeWidth="1.6" />
      <path d="M29.6 21.5a9.7 9.7 0 1 1-3.6-9" strokeWidth="1.5" />
      <path d="M33.8 18.2A14 14 0 1 1 27 7.9" strokeWidth="1.4" />
      <path d="M37.8 22A18 18 0 1 1 33 7.6" strokeWidth="1.3" />
    </svg>
  )
}

export function Rail({ person, onSignOut }: { person: PersonViewModel; onSignOut(): void }) {
  const here = placeOf(usePathname())
  const [settings, ...others] = ALL_PLACES.toReversed()
  const router = useRouter()
  return (
    <nav
      aria-label="Views"
      className="flex w-[68px] shrink-0 flex-col items-center gap-1 bg-rail px-1 py-2 print:hidden"
    >
      <Link href="/" aria-label="Oak Rotation, to Now" className="mb-2 rounded-full">
        <Sign />
      </Link>
      {others.toReversed().map((place) => (
        <RailLink key={place.path} place={place} here={place === here} />
      ))}
      <div className="mt-auto w-full">
        <RailLink place={settings!} here={settings === here} />
        <KeysHelp />
      </div>
      <DropdownMenu.Root>
        <DropdownMenu.Trigger
          className={
            'flex w-full flex-col items-center gap-1 rounded-oak py-2 text-[11px] text-rail-ink ' +
            'hover:bg-rail-on'
          }
        >
          <span
            className="grid size-6 place-items-center rounded-full bg-[#c9a45c] text-[10.5px] font-bold text-[#2e2822]"
            aria-hidden
          >
            {initials(person.name)}
          </span>
          <span className="max-w-[58px] truncate">{person.name.split(' ')[0]}</span>
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content
            side="right"
            align="end"
            sideOffset={6}
            className="z-50 min-w-[200px] rounded-oak border border-line bg-raised p-1.5 text-sm shadow-lg"
          >
            <div className="px-2.5 py-1.5">
              <div className="font-semibold">{person.name}</div>
              <div className="text-xs text-soft">
                signed in as {person.username}, {person.role}
              </div>
            </div>
            <DropdownMenu.Separator className="my-1 h-px bg-line" />
            {(
              [
                ['Paper, light', 'paper'],
                ['Bark, dark', 'bark'],
                ['As the system', undefined],
              ] as const
            ).map(([name, theme]) => (
              <Item key={name} onSelect={() => setTheme(theme)}>
                {name}
              </Item>
            ))}
            <DropdownMenu.Separator className="my-1 h-px bg-line" />
            <Item onSelect={() => router.push('/settings?part=you')}>Password and sessions</Item>
            <Item onSelect={onSignOut}>Sign out</Item>
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
    </nav>
  )
}

const Item = ({ onSelect, children }: { onSelect(): void; children: React.ReactNode }) => (
  <DropdownMenu.Item
    onSelect={onSelect}
    className="cursor-pointer rounded-[4px] px-2.5 py-1.5 outline-none data-[highlighted]:bg-act-wash"
  >
    {children}
  </DropdownMenu.Item>
)
const initials = (name: string) =>
  name
    .split(' ')
    .map((word) => word[0])
    .join('')
    .slice(0, 2)
