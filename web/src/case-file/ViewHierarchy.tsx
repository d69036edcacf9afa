import { readViewHierarchy, type ViewNode } from '@rough-ember/core/report/view-hierarchy';
import { useState } from 'react';
import styles from './Evidence.module.css';

/** The views that were on the screen, as a tree; fetched when it is opened. */
export function ViewHierarchy({ address, name }: { address: string; name: string }) {
  const [tree, setTree] = useState<ViewNode | null | undefined>(undefined);
  const load = async () => {
    if (tree !== undefined) return;
    const answer = await fetch(address).catch(() => null);
    setTree(answer?.ok ? readViewHierarchy(await answer.text()) : null);
  };
  return (
    <details className={styles.part} onToggle={() => void load()}>
      <summary>{name}, the views of the screen</summary>
      {tree === undefined && <p>looking …</p>}
      {tree === null && (
        <p>
          It cannot be read as a tree; <a href={address}>the file as it came</a>.
        </p>
      )}
      {tree && (
        <ul className={styles.tree}>
          <Branch node={tree} depth={0} />
        </ul>
      )}
    </details>
  );
}

/** Branches beyond these levels are closed at first. */
const openLevels = 4;

function Branch({ node, depth }: { node: ViewNode; depth: number }) {
  if (node.children.length === 0) return <li>{node.label}</li>;
  return (
    <li>
      <details open={depth < openLevels}>
        <summary>{node.label}</summary>
        <ul>
          {node.children.map((child, at) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: views have no identity but their place, and the tree never changes
            <Branch key={at} node={child} depth={depth + 1} />
          ))}
        </ul>
      </details>
    </li>
  );
}
