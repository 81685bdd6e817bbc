/** How long the conformance suite waits. */

/** What must succeed may take long on a busy machine; what must fail should fail soon. */
export const PATIENT_MS = 15_000
export const SHORT_MS = 700

export async function until(holds: () => Promise<boolean>): Promise<void> {
  for (const end = Date.now() + PATIENT_MS; Date.now() < end && !(await holds());)
    await new Promise((resolve) => setTimeout(resolve, 20))
}
