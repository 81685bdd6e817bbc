/** Words that people who report failures use for one another. Each line is one meaning. */
import { stem } from './words'

const SAME = [
  'wrong incorrect false bad mistaken invalid',
  'fail failure broken break error exception crash',
  'missing absent gone lost disappear vanish',
  'show display appear see visible shown seen',
  'click press tap push',
  'choose select pick chosen',
  'page screen view',
  'login signin logon authenticate',
  'price fare amount cost',
  'sum total',
  'empty blank nothing',
  'slow late long hang freeze stuck timeout timed',
  'save store keep kept stored',
  'delete remove removed erase',
  'twice double duplicate duplicated repeated',
  'send submit sent post',
  'open load loaded start',
  'close shut dismiss',
  'text label caption wording words',
  'image picture icon',
  'find found locate search',
  'change changed edit modify update updated',
  'mail email message',
  'passenger traveller person people guest',
  'booking reservation reserve book booked',
  'ferry ship vessel boat',
  'sailing crossing departure trip',
  'date day calendar',
  'field input box entry',
  'dialog popup modal window',
  'refuse reject deny denied refused rejected',
  'print printed printer printout',
  'phone handset mobile',
  'list table grid rows',
  'cancel cancelled abort',
  'overlap cover covered hide hidden behind',
  'round rounded rounding',
  'pay payment paid card checkout',
] as const

const MEANINGS = new Map(SAME.flatMap((line, i) => line.split(' ').map((word) => [stem(word), i] as const)))

/** The same for words of one meaning; another word is itself. */
export function meaningOf(word: string): string {
  const meaning = MEANINGS.get(word)
  return meaning === undefined ? word : `=${SAME[meaning]!.split(' ')[0]!}`
}
