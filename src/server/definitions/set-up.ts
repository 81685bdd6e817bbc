import type { SetUp } from '@/core/model'
import type { Conn } from '@/db/client'
import { listPictureNames } from '@/db/pictures'
import { listDefinedSecrets } from '@/db/secrets'
import { listApplications, listDatabases, listEnvironments } from '@/db/workspace'

/** What Settings holds, by the names that definitions use. */
export async function setUpOf(db: Conn): Promise<SetUp> {
  const applications = await listApplications(db)
  const databases = await listDatabases(db)
  const secrets = await listDefinedSecrets(db)
  const pictures = await listPictureNames(db)
  const environments = await listEnvironments(db)
  return {
    applications: new Set(applications.map(({ key }) => key)),
    databases: new Set(databases.map(({ key }) => key)),
    secrets: new Set(secrets),
    pictures: new Set(pictures),
    environments: new Set(environments.flatMap(({ key, facts }) => [key, ...(facts.aliases ?? [])])),
  }
}
