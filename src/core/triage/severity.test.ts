import fc from 'fast-check'
import { SEVERITIES } from '../tracker'
import { proposeSeverity, type SeverityFacts } from './severity'

const facts = (more: Partial<SeverityFacts> = {}): SeverityFacts => ({
  priority: 'normal',
  environments: { failed: 1, of: 1 },
  times: { failed: 1, of: 1 },
  ...more,
})

test.each<[string, Partial<SeverityFacts>, string, string]>([
  ['the priority', {}, 'normal', 'the case has the priority normal'],
  [
    'one more where it fails everywhere',
    { environments: { failed: 3, of: 3 } },
    'high',
    'the case has the priority normal; it fails on all 3 environments that were tried',
  ],
  [
    'one more where many cases fail',
    { cases: 5 },
    'high',
    'the case has the priority normal; 5 cases fail of the same cause',
  ],
  [
    'one more at the most',
    { cases: 9, environments: { failed: 4, of: 4 } },
    'high',
    'the case has the priority normal; it fails on all 4 environments that were tried; 9 cases fail ' +
      'of the same cause',
  ],
  [
    'one less where it fails seldom',
    { times: { failed: 1, of: 4 } },
    'low',
    'the case has the priority normal; it fails only 1 of 4 times',
  ],
  [
    'no less where it was hardly tried',
    { times: { failed: 1, of: 3 } },
    'normal',
    'the case has the priority normal',
  ],
  [
    'one less on one environment of many',
    { environments: { failed: 1, of: 4 } },
    'low',
    'the case has the priority normal; it fails on one of 4 environments',
  ],
  [
    'what is for it and against it is even',
    { cases: 8, environments: { failed: 1, of: 4 } },
    'normal',
    'the case has the priority normal; 8 cases fail of the same cause; it fails on one of 4 environments',
  ],
  [
    'nothing above critical',
    { priority: 'critical', cases: 8 },
    'critical',
    'the case has the priority critical; 8 cases fail of the same cause',
  ],
  [
    'nothing below low',
    { priority: 'low', times: { failed: 1, of: 9 } },
    'low',
    'the case has the priority low; it fails only 1 of 9 times',
  ],
])('%s', (_, more, severity, because) => expect(proposeSeverity(facts(more))).toEqual({ severity, because }))

test('it is never further than one step from the priority', () => {
  const share = fc.tuple(fc.nat(50), fc.nat(50)).map(([failed, more]) => ({ failed, of: failed + more }))
  fc.assert(
    fc.property(
      fc.constantFrom(...SEVERITIES),
      share,
      share,
      fc.nat(90),
      (priority, environments, times, cases) => {
        const { severity } = proposeSeverity({ priority, environments, times, cases })
        expect(Math.abs(SEVERITIES.indexOf(severity) - SEVERITIES.indexOf(priority))).toBeLessThanOrEqual(1)
      },
    ),
  )
})
