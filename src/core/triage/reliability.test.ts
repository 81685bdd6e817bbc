import fc from 'fast-check'
import { CAUSES, DECISIONS, reliabilityOf, type Proposed } from '.'

const proposed = (
  cause: (typeof CAUSES)[number],
  likelihood: number,
  as: Proposed['as'],
  more: Proposed['likely'] = [],
): Proposed => ({ likely: [...more, { cause, likelihood }], as })

test('the likeliest proposal counts; a known defect is one of the product', () => {
  const found = reliabilityOf([
    proposed('product-defect', 0.7, 'known-defect', [{ cause: 'unclear', likelihood: 0.3 }]),
    proposed('product-defect', 0.5, 'test-fault'),
    proposed('test-fault', 0.9, 'no-failure'),
    { likely: [], as: 'unclear' },
  ])
  expect(found).toMatchObject({ of: 3, right: 1 })
  expect(found.byCause.filter((one) => one.proposed + one.decided > 0)).toEqual([
    { cause: 'product-defect', proposed: 2, right: 1, decided: 1 },
    { cause: 'test-fault', proposed: 1, right: 0, decided: 1 },
  ])
  expect(found.bands).toEqual([
    { from: 0, to: 0.4, of: 0, right: 0, meanLikelihood: null },
    { from: 0.4, to: 0.6, of: 1, right: 0, meanLikelihood: 0.5 },
    { from: 0.6, to: 0.8, of: 1, right: 1, meanLikelihood: 0.7 },
    { from: 0.8, to: 1, of: 1, right: 0, meanLikelihood: 0.9 },
  ])
})

test('each counts once, in one band and for one cause, whatever they are', () =>
  fc.assert(
    fc.property(
      fc.array(
        fc.record({
          likely: fc.array(
            fc.record({
              cause: fc.constantFrom(...CAUSES),
              likelihood: fc.double({ min: 0, max: 1, noNaN: true }),
            }),
            { minLength: 1, maxLength: 6 },
          ),
          as: fc.constantFrom(...DECISIONS),
        }),
        { maxLength: 40 },
      ),
      (all) => {
        const { of, right, byCause, bands } = reliabilityOf(all)
        const sum = (counts: number[]) => counts.reduce((total, one) => total + one, 0)
        expect(of).toBe(all.length)
        expect(sum(byCause.map((one) => one.proposed))).toBe(of)
        expect(sum(bands.map((one) => one.of))).toBe(of)
        expect(sum(byCause.map((one) => one.right))).toBe(right)
        expect(sum(bands.map((one) => one.right))).toBe(right)
      },
    ),
  ))
