import { keyOfTitle, type DefinitionKind } from '.'

test.each<[DefinitionKind, string, string, string]>([
  ['case', 'Find a booking', 'find-a-booking', 'words'],
  ['case', '  Rückgabe über 400 € ', 'ruckgabe-uber-400', 'letters keep their base, signs go'],
  ['data', 'Single fares', 'single-fares.csv', 'a table is a file'],
  ['suite', '— ! —', '', 'nothing to make a key of'],
  ['data', '', '', 'no title'],
])('the key of a %s called “%s” is “%s”: %s', (kind, title, key) => expect(keyOfTitle(kind, title)).toBe(key))
