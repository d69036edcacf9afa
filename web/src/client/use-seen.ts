import { useInViewport } from '@mantine/hooks';
import { useEffect, useState } from 'react';

/** Whether an element has ever been in view: what is heavy and further down is loaded only then. */
export function useSeen<Element extends HTMLElement>() {
  const { ref, inViewport } = useInViewport<Element>();
  const [seen, setSeen] = useState(false);
  useEffect(() => {
    if (inViewport) setSeen(true);
  }, [inViewport]);
  return { ref, seen };
}
