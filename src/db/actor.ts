/** Who asked for what is going on: noted with every change, however deep in the code it is made. */
import { AsyncLocalStorage } from 'node:async_hooks'

/** `id` stays the same whatever somebody is called; `address` is where the request came from. */
export type Actor = { id: string; address: string }

const shared = globalThis as { oakActor?: AsyncLocalStorage<Actor> }
/** On `globalThis`, because the bundler may load this module more than once. */
const scope = (shared.oakActor ??= new AsyncLocalStorage<Actor>())

/** Runs work in which `currentActor` is this one; who asks is filled in once it is known. */
export const withActor = <T>(actor: Actor, work: () => Promise<T>): Promise<T> => scope.run(actor, work)

/** Empty outside of a request. */
export const currentActor = (): Actor => scope.getStore() ?? { id: '', address: '' }

/** From now on in this request. */
export function actAs(id: string): void {
  const actor = scope.getStore()
  if (actor) actor.id = id
}
