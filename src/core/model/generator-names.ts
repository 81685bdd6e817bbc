/** Names of the generators, apart from what makes their values: the interface offers them without carrying
 * it. */
export const GENERATOR_NAMES = [
  'fake.name',
  'fake.firstName',
  'fake.lastName',
  'fake.email',
  'fake.phone',
  'fake.word',
  'fake.text',
  'fake.number',
  'fake.pick',
  'fake.id',
  'date',
] as const
