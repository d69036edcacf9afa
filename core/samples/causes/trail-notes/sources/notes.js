export function parseTag(text) {
  const match = /^#(\w+)$/.exec(text);
  return match[1].toLowerCase();
}

export function tagsOf(note) {
  return note.text
    .split(' ')
    .filter((word) => word.startsWith('#'))
    .map(parseTag);
}

export const groupByTag = (notes) => {
  const groups = {};
  for (const note of notes) for (const tag of tagsOf(note)) groups[tag].push(note);
  return groups;
};

export class Editor {
  constructor(notes) {
    this.notes = notes;
    this.history = [];
  }

  apply(change) {
    this.history.push(change);
    return change.run(this.notes);
  }

  undo() {
    const change = this.history.pop();
    return change.revert(this.notes);
  }

  rename(tag, wanted) {
    return this.apply({ run: (notes) => notes.forEach((note) => note.tags.replace(tag, wanted)) });
  }

  remove(at) {
    return this.apply({
      run(notes) {
        return notes.splice(at, 1)[0].text.length;
      },
    });
  }
}
