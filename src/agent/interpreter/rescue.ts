/** Puts known upsets right while an attempt goes on: asks which recovery rule fits, carries out its steps in
 * the same browser, and says where the case goes on. */
import { recover, type Failure, type FailureFacts, type RecoveryUse, type WorkRule } from '@/core/execution'
import { describeDuration, describeRule } from '@/core/model'
import { failureOf, Stopped } from './fault'
import { left, type Rescued, type Rescuer, type StepParts } from './parts'
import { StepRunner } from './steps'

/** All rules of one failure together may take this long, unless their policy says otherwise. */
const BUDGET_MS = 120_000

export class Rescue implements Rescuer {
  /** Uses in this attempt. */
  private readonly uses: RecoveryUse[] = []
  private spentMs = 0

  constructor(private readonly parts: StepParts) {}

  /** @param path where it failed; each branch stands beside it in the log, as "path!1", "path!2"
   * @returns `undefined` when no rule helps: the failure stands. @throws {Stopped} */
  async attend(failure: Failure, path: string, tag: string | undefined): Promise<Rescued | undefined> {
    const { work, log, pace, application } = this.parts
    if (!work.recovery) return undefined
    const { budgetMs = BUDGET_MS, usedMs } = work.recovery
    for (;;) {
      const found = this.ruleFor(failure, tag)
      if (!found) return undefined
      const { rule } = found
      const begunMs = pace.now()
      const branch = `${path}!${this.uses.length + 1}`
      log.say({
        type: 'recovery-started',
        path: branch,
        at: path,
        rule: rule.id,
        policy: rule.policy,
        from: rule.from,
        words: describeRule(rule),
        because: found.because,
        resume: rule.resume,
        kind: failure.kind,
      })
      // The case's own time stands still meanwhile; recovering has a budget of its own.
      const parts: StepParts = {
        ...this.parts,
        untilMs: begunMs + budgetMs - usedMs - this.spentMs,
        rescue: undefined,
      }
      const fault = await this.carryOut(rule, found.waitMs, branch, parts)
      const ms = pace.now() - begunMs
      this.spentMs += ms
      this.parts.untilMs += ms
      const result = fault ? ('failed' as const) : ('worked' as const)
      this.uses.push({ rule: rule.id, result })
      log.say({
        type: 'recovery-ended',
        path: branch,
        at: path,
        rule: rule.id,
        result,
        ms,
        resume: rule.resume,
        kind: failure.kind,
        message: failure.message,
        ...(tag !== undefined && { tag }),
        ...(application !== undefined && { application }),
        ...(fault && { failure: fault }),
        ...(found.waitMs > 0 && { note: `waited ${describeDuration(found.waitMs)}` }),
      })
      if (!fault) return { resume: rule.resume, rule }
    }
  }

  find(failure: Failure, tag: string | undefined): string | undefined {
    const found = this.ruleFor(failure, tag)
    return found && describeRule(found.rule)
  }

  /** The rule that is next for a failure. */
  private ruleFor(failure: Failure, tag: string | undefined) {
    const { work, application } = this.parts
    if (!work.recovery) return undefined
    const { rules, history, budgetMs = BUDGET_MS, usedMs, usedInRun } = work.recovery
    const { key, browser, os, locale, width, height } = work.environment
    const facts: FailureFacts = {
      kind: failure.kind,
      message: failure.message,
      ...(tag !== undefined && { step: tag }),
      ...(application !== undefined && { application }),
      environment: { key, browser, os, locale, screen: `${width}x${height}` },
    }
    const found = recover({
      policy: { rules, retries: { case: 0 }, budgetMs },
      failure: facts,
      history: [...history, ...this.uses],
      usedMs: usedMs + this.spentMs,
      usedInRun: added(usedInRun, this.uses),
    })
    if (found.decision !== 'recover') return undefined
    const { waitMs, because } = found
    return { rule: rules.find(({ id }) => id === found.rule)!, waitMs, because }
  }

  private async carryOut(
    rule: WorkRule,
    waitMs: number,
    branch: string,
    parts: StepParts,
  ): Promise<Failure | undefined> {
    try {
      if (waitMs > 0) await parts.pace.pause(Math.min(waitMs, left(parts)))
      await new StepRunner(parts).runAll(rule.do, branch)
      return undefined
    } catch (error) {
      if (error instanceof Stopped || parts.signal.aborted) throw new Stopped()
      const { path: _, ...failure } = failureOf(error)
      return failure
    }
  }
}

function added(
  usedInRun: Readonly<Record<string, number>>,
  uses: readonly RecoveryUse[],
): Record<string, number> {
  const counts = { ...usedInRun }
  for (const { rule } of uses) if (rule !== null) counts[rule] = (counts[rule] ?? 0) + 1
  return counts
}
