const shownParts = 2;

/** The end of a long path: the file and the folder it lies in, which is what people know it by. */
export function shortPath(path: string): string {
  const parts = path.split(/[\\/]/).filter((part, index) => part !== '.' || index === 0);
  return parts.length <= shownParts + 1 ? path : `…/${parts.slice(-shownParts).join('/')}`;
}
