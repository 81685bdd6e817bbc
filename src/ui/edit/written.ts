/** What a person wrote into a field, as it goes into the text of a definition. */

/** A number where it is one; nothing where the field is empty; else the words as they are: the text then says
 * what is wrong, with its line. */
export function numberWritten(written: string): number | string | undefined {
  const text = written.trim()
  if (text === '') return undefined
  return /^-?\d+(\.\d+)?$/.test(text) ? Number(text) : written
}
