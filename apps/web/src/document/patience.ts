/** How long storage of the browser may take to answer before it counts as blocked. */
const PATIENCE_MS = 4000;

/** What storage answers. @throws Error where it does not answer in time; the answer is dropped then. */
export async function inTime<T>(answer: Promise<T>): Promise<T> {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const late = new Promise<never>((_resolve, reject) => {
    timer = setTimeout(() => reject(new Error('The storage of this browser does not answer.')), PATIENCE_MS);
  });
  try {
    return await Promise.race([answer, late]);
  } finally {
    clearTimeout(timer);
  }
}
