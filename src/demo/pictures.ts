/** Pictures that cases of the ferry line look for. */
import sharp from 'sharp'

const CABINS = 12
/** A row of cabins, from the top of the deck. */
const ROWS = [10, 34]

/** The deck plan as the booking site draws it, on a light ground. @returns a PNG, base64 */
export async function deckPlanPicture(): Promise<string> {
  const cabin = (i: number, y: number) =>
    `<rect x="${10 + i * 33}" y="${y}" width="22" height="16" fill="${i % 5 === 3 ? '#a9bcc5' : '#2f86a8'}"/>`
  const cabins = ROWS.flatMap((y) => Array.from({ length: CABINS }, (_, i) => cabin(i, y)))
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="412" height="62"><rect width="412" height="62" fill="#ffffff"/>
    <rect x="0.5" y="0.5" width="410" height="60" fill="none" stroke="#14506b"/>${cabins.join('')}</svg>`
  return (await sharp(Buffer.from(svg)).png().toBuffer()).toString('base64')
}
