import { FILE_SCHEMAS } from '@/core/model/files'
import { ROTATION_REPORT_SCHEMA, RUN_REPORT_SCHEMA } from '@/core/reports'

const SCHEMAS: Record<string, object> = {
  ...FILE_SCHEMAS,
  'run-report': RUN_REPORT_SCHEMA,
  'rotation-report': ROTATION_REPORT_SCHEMA,
}

/** JSON Schemas of the file formats, for editors, and of reports: /schemas/case.json. */
export async function GET(_: Request, { params }: { params: Promise<{ kind: string }> }): Promise<Response> {
  const kind = (await params).kind.replace(/\.json$/, '')
  if (!Object.hasOwn(SCHEMAS, kind))
    return Response.json({ message: `There is: ${Object.keys(SCHEMAS).join(', ')}.` }, { status: 404 })
  return Response.json(SCHEMAS[kind])
}
