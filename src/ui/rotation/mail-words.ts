/** ISO: 1 is Monday. */
export const DAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'] as const
export const dayName = (weekday: number): string => DAYS[weekday - 1] ?? ''

/** Addresses as people write them in one field. */
export const addressesIn = (text: string): string[] => [...new Set(text.split(/[\s,;]+/).filter(Boolean))]
/** @returns the first that is no address */
export const noAddress = (addresses: readonly string[]): string | undefined =>
  addresses.find((one) => !/^[^@\s,<>]+@[^@\s,<>]+$/.test(one))
