import { FILE_SCHEMAS } from '@/core/model/files'

/** The file formats' JSON Schemas, for editors: /schemas/case.json. */
export async function GET(_: Request, { params }: { params: Promise<{ kind: string }> }): Promise<Response> {
  const kind = (await params).kind.replace(/\.json$/, '')
  if (!Object.hasOwn(FILE_SCHEMAS, kind))
    return Response.json({ message: `There is: ${Object.keys(FILE_SCHEMAS).join(', ')}.` }, { status: 404 })
  return Response.json(FILE_SCHEMAS[kind as keyof typeof FILE_SCHEMAS])
}
