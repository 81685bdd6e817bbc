/** People, themselves and by an administrator. */
export type Role = 'viewer' | 'tester' | 'coordinator' | 'admin'

export type PersonViewModel = { name: string; username: string; role: Role }

/** A person as an administrator sees them. */
export type MemberViewModel = {
  id: string
  name: string
  username: string
  role: Role
  state: 'invited' | 'active' | 'deactivated'
  secondFactor: boolean
  seenAt: string | null
}

/** What a person sees of themselves. `here`: the session they look from. */
export type YouViewModel = {
  name: string
  username: string
  role: Role
  secondFactor: { since: string; recoveryCodes: number } | null
  sessions: {
    id: string
    here: boolean
    createdAt: string
    seenAt: string
    address: string
    program: string
  }[]
}

/** A line of the audit trail. `actor`: what does not change of who it was; `sealed`: it is part of the
 * chain. */
export type AuditLine = {
  id: number
  at: string
  who: string
  actor: string
  address: string
  action: string
  subject: string
  detail: string
  sealed: boolean
}
