/** Keys as WebDriver writes them (w3.org/TR/webdriver2, keyboard actions). */
const KEYS: Record<string, string> = {
  Backspace: '\uE003',
  Tab: '\uE004',
  Enter: '\uE007',
  Shift: '\uE008',
  Control: '\uE009',
  Alt: '\uE00A',
  Escape: '\uE00C',
  Space: ' ',
  PageUp: '\uE00E',
  PageDown: '\uE00F',
  End: '\uE010',
  Home: '\uE011',
  ArrowLeft: '\uE012',
  ArrowUp: '\uE013',
  ArrowRight: '\uE014',
  ArrowDown: '\uE015',
  Insert: '\uE016',
  Delete: '\uE017',
  Meta: '\uE03D',
  ...Object.fromEntries(Array.from({ length: 12 }, (_, i) => [`F${i + 1}`, String.fromCharCode(0xe031 + i)])),
}
/** "Enter", "a", "Control+a". */
export const keyOf = (name: string): string =>
  name.length > 1
    ? name
        .split('+')
        .map((part) => KEYS[part] ?? part)
        .join('')
    : name
