import { Menu, UnstyledButton } from '@mantine/core';
import { frameAddress } from '@rough-ember/core/cases/desk-settings';
import type { ReadableFrame } from '@rough-ember/core/symbolicate/readable-report';
import { useState } from 'react';
import { useFrameLinks } from './frame-links';
import styles from './StackView.module.css';

/** What can be done with a frame: opened where the code is, or made a rule of. */
export function FrameMenu({ frame }: { frame: ReadableFrame }) {
  const links = useFrameLinks();
  const [opened, setOpened] = useState(false);
  const label = `Do something with ${frame.function}`;
  if (!links) return null;
  // A stack has hundreds of frames, and hardly one of their menus is ever opened.
  if (!opened)
    return (
      <UnstyledButton className={styles.more} aria-label={label} aria-haspopup="menu" onClick={() => setOpened(true)}>
        ⋯
      </UnstyledButton>
    );
  const { settings, version, rules } = links;
  const place = frame.file === null ? null : { file: frame.file, line: frame.line, version };
  const rule = (verb: string, words: string) =>
    rules !== null && (
      <Menu.Item component="a" href={`${rules}?add=${encodeURIComponent(`${verb} function ${quoted(frame.function)}`)}`}>
        {words}
      </Menu.Item>
    );
  return (
    <Menu opened onChange={setOpened} width={250} position="bottom-end" withInitialFocusPlaceholder={false}>
      <Menu.Target>
        <UnstyledButton className={styles.more} aria-label={label}>
          ⋯
        </UnstyledButton>
      </Menu.Target>
      <Menu.Dropdown>
        {place && settings.editor && (
          <Menu.Item component="a" href={frameAddress(settings.editor, place)}>
            Open in the editor
          </Menu.Item>
        )}
        {place && settings.repository && (
          <Menu.Item component="a" href={frameAddress(settings.repository, place)} target="_blank" rel="noreferrer">
            Open in the repository
          </Menu.Item>
        )}
        {rule(frame.ours ? 'outside' : 'ours', frame.ours ? 'Rule: this is not our code' : 'Rule: this is our code')}
        {rule('skip', 'Rule: this never decides')}
        {rule('stop', 'Rule: end the stack here')}
        {rules === null && !settings.editor && !settings.repository && <Menu.Item disabled>Nothing to open it in</Menu.Item>}
      </Menu.Dropdown>
    </Menu>
  );
}

const quoted = (name: string): string => (/[\s"#]/.test(name) ? `"${name.replace(/["\\]/g, '\\$&')}"` : name);
