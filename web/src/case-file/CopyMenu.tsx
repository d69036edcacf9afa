import { Button, Menu } from '@mantine/core';
import { caseMarkdown, casePlainText, rawStackText } from '@rough-ember/core/cases/case-text';
import { caseValues } from '@rough-ember/core/cases/case-values';
import { stackMarkdown, stackText } from '@rough-ember/core/symbolicate/stack-text';
import { fillTemplate } from '@rough-ember/core/templates/template';
import type { CaseFile } from '@rough-ember/server/desk/case-file';
import { useState } from 'react';
import { copyText } from '../client/copy-text';

/** Copies of a case for others: a ticket, a chat, another program. */
export function CopyMenu({ file, likelyChange, appName }: { file: CaseFile; likelyChange: string | null; appName: string }) {
  const [said, setSaid] = useState<string | null>(null);
  const { item, report } = file;
  const copy = async (text: string) => {
    setSaid((await copyText(text)) ? 'Copied' : 'Could not copy');
    setTimeout(() => setSaid(null), 1500);
  };
  const address = () => window.location.href;
  const told = { ...file, likelyChange };
  const template = file.settings.copy;
  const inTheTeamsWords = (text: string) => fillTemplate(text, 'text', caseValues(told, { appName, address: address() }));
  return (
    <Menu position="bottom-end" withInitialFocusPlaceholder={false}>
      <Menu.Target>
        <Button size="compact-sm" variant="default">
          <span aria-live="polite">{said ?? 'Copy ▾'}</span>
        </Button>
      </Menu.Target>
      <Menu.Dropdown>
        {template !== null && <Menu.Item onClick={() => copy(inTheTeamsWords(template))}>Case as the team has it</Menu.Item>}
        <Menu.Item onClick={() => copy(caseMarkdown(told, { appName, address: address() }))}>Case as Markdown</Menu.Item>
        <Menu.Item onClick={() => copy(casePlainText(told, { appName, address: address() }))}>Case as plain text</Menu.Item>
        <Menu.Item onClick={() => copy(JSON.stringify(report, null, 2))}>Report as JSON</Menu.Item>
        <Menu.Item onClick={() => copy(stackText(report.readable))}>Stack as text</Menu.Item>
        <Menu.Item onClick={() => copy(stackMarkdown(report.readable, `${item.ref}: ${item.what} in ${item.where}`, address()))}>
          Stack as Markdown
        </Menu.Item>
        <Menu.Item onClick={() => copy(rawStackText(report))}>Stack as it was reported</Menu.Item>
        <Menu.Item onClick={() => copy(address())}>Address of this view</Menu.Item>
      </Menu.Dropdown>
    </Menu>
  );
}
