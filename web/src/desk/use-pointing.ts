import { useEffect, useRef, useState } from 'react';

/** Whoever has not moved the pointer for so long is not about to press. */
const restMs = 5_000;

export interface PointingHandlers {
  onPointerMove(): void;
  onPointerLeave(): void;
  onClick(): void;
}

/**
 * Tells when somebody begins to point at a part of the screen, and when they end it: by pressing there, leaving it, resting, or
 * going on with the keyboard.
 */
export function usePointing(onPointing: (isPointing: boolean) => void): PointingHandlers {
  const latest = useRef(onPointing);
  useEffect(() => {
    latest.current = onPointing;
  });
  const [pointing] = useState(() => {
    let timer: ReturnType<typeof setTimeout> | null = null;
    const end = () => {
      if (timer === null) return;
      clearTimeout(timer);
      timer = null;
      latest.current(false);
    };
    const begin = () => {
      if (timer === null) latest.current(true);
      else clearTimeout(timer);
      timer = setTimeout(end, restMs);
    };
    return { begin, end };
  });
  useEffect(() => {
    document.addEventListener('keydown', pointing.end);
    return () => {
      document.removeEventListener('keydown', pointing.end);
      pointing.end();
    };
  }, [pointing]);
  return { onPointerMove: pointing.begin, onPointerLeave: pointing.end, onClick: pointing.end };
}
