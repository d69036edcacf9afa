import { Button } from '@mantine/core';
import { useState } from 'react';
import { copyText } from '../client/copy-text';

/** Copies a text and says so. */
export function CopyButton({ text, children, compact = false }: { text: string; children: string; compact?: boolean }) {
  const [said, setSaid] = useState<string | null>(null);
  const copy = async () => {
    setSaid((await copyText(text)) ? 'Copied' : 'Could not copy');
    setTimeout(() => setSaid(null), 1500);
  };
  return (
    <Button size={compact ? 'compact-xs' : 'compact-sm'} variant="default" onClick={copy}>
      <span aria-live="polite">{said ?? children}</span>
    </Button>
  );
}
