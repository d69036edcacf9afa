import { type DragEvent, useState } from 'react';

/** What a place takes where files can be dropped: whether some are held over it, and what it listens to. */
export function useFileDrop(take: (files: FileList) => void, enabled = true) {
  const [over, setOver] = useState(false);
  return {
    'data-over': over,
    onDragOver: (event: DragEvent) => {
      if (!enabled) return;
      event.preventDefault();
      setOver(true);
    },
    onDragLeave: () => setOver(false),
    onDrop: (event: DragEvent) => {
      if (!enabled) return;
      event.preventDefault();
      setOver(false);
      take(event.dataTransfer.files);
    },
  };
}
