/** The same error of a script as each engine words it. The right side is what they have in common; `$1` is
 * the property, or the name. */
const ERRORS: readonly (readonly [pattern: RegExp, means: string])[] = [
  // V8, then SpiderMonkey, then JavaScriptCore.
  [
    /cannot (?:read|set) propert(?:y|ies) (?:['"]?[\w$]+['"]? )?of (undefined|null)(?: \((?:reading|setting) ['"]?([\w$]+)['"]?\))?/i,
    'property $2 of $1',
  ],
  [/can't access property ['"]?([\w$]+)['"]?, .{0,200}? is (undefined|null)/i, 'property $1 of $2'],
  [
    /(undefined|null) is not an object \(evaluating ['"].{0,200}?\.([\w$]+)(?:\s*=.{0,200})?['"]\)/i,
    'property $2 of $1',
  ],
  [/([\w$]+)(?:\(\.\.\.\))? is not a function/i, '$1 is no function'],
  [/can't find variable: ([\w$]+)/i, '$1 is not defined'],
  [/\b([\w$]+) is not defined/i, '$1 is not defined'],
  [
    /unexpected token .{0,60}(?:in json|is not valid json)|json\.parse: unexpected|json parse error|unexpected end of json input/i,
    'no json',
  ],
  [/failed to fetch|networkerror when attempting to fetch|^(?:typeerror: )?load failed/i, 'fetch failed'],
  [/maximum call stack size exceeded|too much recursion/i, 'endless recursion'],
  [
    /assignment to constant variable|invalid assignment to const|attempted to assign to readonly property/i,
    'assignment to a constant',
  ],
  [/([\w$]+) is not iterable/i, '$1 is not iterable'],
]

/** @returns `undefined`: it is no error that engines word in their own ways */
export function scriptError(message: string): string | undefined {
  for (const [pattern, means] of ERRORS) {
    const found = pattern.exec(message)
    if (found) return means.replace(/\$(\d)/g, (_, at: string) => found[Number(at)] ?? '?').toLowerCase()
  }
  return undefined
}
