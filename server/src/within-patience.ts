const patienceMs = 2_000;

/**
 * Waits for work that figures could do without for once: a database that takes no changes for a while still tells what it has.
 * The work goes on; what fails of it is looked at by whoever asks next.
 */
export async function withinPatience(work: Promise<void>): Promise<void> {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const given = new Promise<void>((resolve) => {
    timer = setTimeout(resolve, patienceMs);
  });
  await Promise.race([work.catch(() => {}), given]);
  clearTimeout(timer);
}
