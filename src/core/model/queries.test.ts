import { queryProblem } from './queries'

test.each([
  'select 1',
  "select * from bookings where name = 'drop; table' and note <> $1",
  'with late as (select * from sailings) select count(*) from late;',
  'values (1), (2)',
  'table ports',
  'show server_version',
  '  -- how many; are on board\n select count(*) /* nested /* ; */ ; */ from passengers',
  "select $body$ do; copy $body$, E'it\\'s; here'",
  '(select 1) union (select 2)',
  "select 'lo_create(1)' as text, reload from t",
  'select nextvalue from t',
  'select "odd;name" from t',
])('%s is taken', (sql) => expect(queryProblem(sql)).toBeUndefined())

test.each([
  ['', 'no statement'],
  ['-- nothing', 'no statement'],
  ['select 1; drop table ports', 'several statements'],
  ["select 1; commit; delete from ports where '' = ''", 'several statements'],
  ['do $$ begin end $$', 'begins with “do”'],
  ["copy ports to program 'id'", 'begins with “copy”'],
  ['set transaction_read_only = off', 'begins with “set”'],
  ['/* select */ delete from ports', 'begins with “delete”'],
  ['begin', 'begins with “begin”'],
  ['explain analyze delete from ports', 'begins with “explain”'],
  ["select set_config('transaction_read_only', 'off', false)", 'calls set_config'],
  ['select lo_create(0)', 'calls lo_create'],
  ['select pg_catalog."lo_unlink"(1)', 'calls lo_unlink'],
  ['select U&"lo\\005fcreate"(0)', 'plainly'],
  ['select PG_TERMINATE_BACKEND (1)', 'calls pg_terminate_backend'],
  ["select pg_read_file('/etc/passwd')", 'calls pg_read_file'],
  ["select pg_read_binary_file('/etc/passwd')", 'calls pg_read_binary_file'],
  ["select pg_ls_dir('.')", 'calls pg_ls_dir'],
  ['select pg_try_advisory_lock(1)', 'calls pg_try_advisory_lock'],
  ['select pg_switch_wal()', 'calls pg_switch_wal'],
  ["select nextval('bookings_id')", 'calls nextval'],
  ["select dblink_exec('', '')", 'calls dblink_exec'],
  ["select query_to_xml('delete from ports', true, true, '')", 'calls query_to_xml'],
  ['select 1 into t', 'makes a table'],
  ['select * from ports for update', 'locks'],
  ["select 'a''b'; select 2", 'several statements'],
  [`select "x'", lo_create(0), '"'`, 'calls lo_create'],
  [`select "x--", lo_create(0)`, 'calls lo_create'],
  ["select 'open", undefined],
])('%s is refused', (sql, words) => {
  if (words === undefined)
    expect(queryProblem(sql)).toBeUndefined() // PostgreSQL says what is wrong with it
  else expect(queryProblem(sql)).toContain(words)
})
