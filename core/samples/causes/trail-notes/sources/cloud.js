const wait = (value) => new Promise((resolve) => resolve(value));

async function request(path) {
  await wait(path);
  if (path.includes('?')) throw new TypeError(`network request failed: ${path}`);
  return { path, json: async () => null };
}

export async function loadNotes() {
  const response = await request('/notes');
  const list = await response.json();
  return list.map((note) => note.text);
}

export async function search(words) {
  const response = await request(`/search?q=${words}`);
  return response.path;
}

export class Upload {
  #parts = [];

  async start(file) {
    await this.prepare(file);
    return this.finish();
  }

  async prepare(file) {
    const head = await wait(file);
    this.#parts.push(head.slice(0, 4));
  }

  finish() {
    return this.#parts[1].length;
  }
}

export function retry(work, times) {
  return work().catch((error) => {
    if (times === 0) throw error;
    return retry(work, times - 1);
  });
}

export const uploadAll = (files) => Promise.all(files.map((file) => new Upload().start(file)));
export const uploadOne = (file) => retry(() => new Upload().start(file), 2);
