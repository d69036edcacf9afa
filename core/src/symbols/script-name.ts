/**
 * The name under which a script and its map know each other: without folders, query and fragment.
 *
 * @example scriptName('http://10.0.2.2:8081/index.bundle?platform=android#x') === 'index.bundle'
 */
export function scriptName(file: string): string {
  const path = file.replace(/[?#].*$/s, '');
  const name = path.slice(Math.max(path.lastIndexOf('/'), path.lastIndexOf('\\')) + 1);
  try {
    return decodeURIComponent(name);
  } catch {
    return name;
  }
}
