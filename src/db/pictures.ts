import { asc, eq, inArray } from 'drizzle-orm'
import type { Conn } from './client'
import { pictures } from './schema'

export type PictureRow = { name: string; bytes: Buffer; width: number; height: number; setBy: string }

export const pictureLines = async (db: Conn) =>
  await db
    .select({
      name: pictures.name,
      width: pictures.width,
      height: pictures.height,
      setBy: pictures.setBy,
      setAt: pictures.setAt,
    })
    .from(pictures)
    .orderBy(asc(pictures.name))

export const listPictureNames = async (db: Conn): Promise<string[]> =>
  (await db.select({ name: pictures.name }).from(pictures).orderBy(asc(pictures.name))).map(
    ({ name }) => name,
  )

export const pictureBytes = async (db: Conn, names: readonly string[]) =>
  await db
    .select({ name: pictures.name, bytes: pictures.bytes })
    .from(pictures)
    .where(inArray(pictures.name, [...names]))

export async function putPicture(db: Conn, row: PictureRow): Promise<void> {
  await db
    .insert(pictures)
    .values(row)
    .onConflictDoUpdate({ target: pictures.name, set: { ...row, setAt: new Date() } })
}

/** @returns whether it was there */
export const dropPicture = async (db: Conn, name: string): Promise<boolean> =>
  (await db.delete(pictures).where(eq(pictures.name, name)).returning({ name: pictures.name })).length > 0
