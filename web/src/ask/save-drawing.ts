/** What decides how a drawing looks, taken over from the page's style, since a file stands without it. */
const looks = [
  'fill',
  'stroke',
  'stroke-width',
  'stroke-dasharray',
  'fill-opacity',
  'opacity',
  'font-size',
  'font-family',
  'font-weight',
  'text-anchor',
];

/** A drawing of the page as a file of its own (SVG 1.1), with its title above. */
export function printDrawing(drawing: SVGSVGElement, title: string): string {
  const { width, height } = drawing.getBoundingClientRect();
  const head = 34;
  const copy = drawing.cloneNode(true) as SVGSVGElement;
  const originals = [drawing, ...drawing.querySelectorAll('*')];
  [copy, ...copy.querySelectorAll('*')].forEach((element, at) => {
    const style = getComputedStyle(originals[at] as Element);
    for (const name of looks) {
      const value = style.getPropertyValue(name);
      if (value) element.setAttribute(name, value);
    }
    element.removeAttribute('class');
    element.removeAttribute('style');
  });
  for (const [name, value] of Object.entries({ x: '0', y: String(head), width: String(width), height: String(height) }))
    copy.setAttribute(name, value);
  const page = getComputedStyle(document.body);
  const root = document.createElementNS('http://www.w3.org/2000/svg', 'svg');
  const total = height + head + 8;
  for (const [name, value] of Object.entries({ width: String(width), height: String(total), viewBox: `0 0 ${width} ${total}` }))
    root.setAttribute(name, value);
  const paper = document.createElementNS(root.namespaceURI, 'rect');
  for (const [name, value] of Object.entries({ width: '100%', height: '100%', fill: page.backgroundColor }))
    paper.setAttribute(name, value);
  const text = document.createElementNS(root.namespaceURI, 'text');
  for (const [name, value] of Object.entries({ x: '10', y: '22', fill: page.color, 'font-family': page.fontFamily, 'font-size': '14' }))
    text.setAttribute(name, value);
  text.textContent = title;
  root.append(paper, text, copy);
  return new XMLSerializer().serializeToString(root);
}

/** A drawing as points, twice as many as on the screen, so that it stays sharp where it is put. */
export async function paintDrawing(svg: string): Promise<Blob> {
  const image = new Image();
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`;
  await image.decode();
  const canvas = document.createElement('canvas');
  canvas.width = 2 * image.width;
  canvas.height = 2 * image.height;
  canvas.getContext('2d')?.drawImage(image, 0, 0, canvas.width, canvas.height);
  return new Promise((resolve, reject) =>
    canvas.toBlob((blob) => (blob ? resolve(blob) : reject(new Error('the browser painted nothing'))), 'image/png'),
  );
}

/** Lets the browser save something as a file. */
export function saveFile(name: string, content: Blob): void {
  const address = URL.createObjectURL(content);
  Object.assign(document.createElement('a'), { href: address, download: name }).click();
  URL.revokeObjectURL(address);
}
