import {
  defectCells,
  defectsThatFit,
  NO_DEFECT_FILTER,
  placeOfDefect,
  type DefectFilter,
} from './defect-list'

const defect = (title: string, more: object = {}) => ({
  title,
  steps: 'Open the booking page',
  expected: '',
  actual: '',
  environment: 'Chromium, Windows',
  caseKey: 'refund-over-400',
  trackerNumber: null,
  trackerState: null,
  state: 'draft' as 'draft' | 'to-send' | 'sent',
  mailTo: null as string | null,
  severity: 'normal' as const,
  build: '2026.11.3',
  createdBy: 'Wren Adeyemi',
  createdAt: '2026-12-01T09:00:00.000Z',
  ...more,
})
const ALL = [
  defect('The fare is wrong'),
  defect('The gate stays shut', { state: 'sent', trackerNumber: 'FSF-12', severity: 'high' }),
  defect('A word is missing', { state: 'sent', mailTo: 'desk@fennel-sound.invalid', build: '2026.11.4' }),
  defect('The fare is twice there', { state: 'to-send' }),
]

test.each<[Partial<DefectFilter>, number[]]>([
  [{}, [0, 1, 2, 3]],
  [{ words: 'fare' }, [0, 3]],
  [{ words: ' FARE  twice ' }, [3]],
  [{ words: 'fsf-12' }, [1]],
  [{ words: 'fare fsf-12' }, []],
  [{ words: '.*' }, []],
  [{ place: 'with the tracker' }, [1]],
  [{ place: 'mailed' }, [2]],
  [{ place: 'on the way' }, [3]],
  [{ place: 'draft', words: 'gate' }, []],
  [{ severity: 'high' }, [1]],
  [{ build: '2026.11.4' }, [2]],
])('%j', (filter, fit) =>
  expect(defectsThatFit(ALL, { ...NO_DEFECT_FILTER, ...filter })).toEqual(fit.map((i) => ALL[i])),
)

test('each stands at one place', () =>
  expect(ALL.map(placeOfDefect)).toEqual(['draft', 'with the tracker', 'mailed', 'on the way']))

test('as cells, each under its head', () => {
  const [head, row] = defectCells([ALL[1]!])
  expect(Object.fromEntries(head!.map((name, i) => [name, row![i]]))).toMatchObject({
    number: 'FSF-12',
    standing: 'with the tracker',
    severity: 'high',
    'logged by': 'Wren Adeyemi',
  })
})
