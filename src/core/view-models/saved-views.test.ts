import { queryOfView } from './saved-views'

test.each([
  ['', ''],
  ['?severity=high&id=4', 'severity=high'],
  ['?words=two+words&build=2026.11.3', 'build=2026.11.3&words=two+words'],
  ['build=2026.11.3&words=two%20words', 'build=2026.11.3&words=two+words'],
  ['?id=4', ''],
])('%s is the view %s', (search, query) => expect(queryOfView(search, ['id'])).toBe(query))
