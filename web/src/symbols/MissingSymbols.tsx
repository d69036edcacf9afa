import { UnstyledButton } from '@mantine/core';
import type { SymbolNeed } from '@rough-ember/core/symbolicate/readable-report';
import { familyOf, wordSymbolFile } from '@rough-ember/core/symbols/families';
import { useRef, useState } from 'react';
import { problemOf, type RequestProblem } from '../client/api';
import { useFileDrop } from '../client/use-file-drop';
import { CommandBlock } from '../shell/CommandBlock';
import type { PageShell } from '../shell/page-shell';
import { sentence } from '../words/sentence';
import styles from './MissingSymbols.module.css';
import { isOrAre } from './symbol-words';
import { uploadCommand } from './upload-command';
import { uploadSymbolFile } from './upload-symbol-file';

export interface MissingSymbolsProps extends SymbolNeed {
  readonly appSlug: string;
  readonly server: Pick<PageShell, 'serverAddress' | 'serverVersion'>;
  readonly version: string;
  readonly build: string;
  /** What the missing file costs, in words. */
  readonly cost?: string;
  /** What frames say against the file that is there; without it the file is missing. */
  readonly misfit?: string | null;
  readonly mayUpload: boolean;
}

interface ChooseFileProps extends Pick<MissingSymbolsProps, 'kind' | 'name'> {
  readonly label: string;
  readonly onFile: (file: File | undefined) => void;
}

/** The way to hand over a file without the command. */
function ChooseFile({ kind, name, label, onFile }: ChooseFileProps) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <div>
      or drop {kind === 'code' ? 'the unstripped file' : <code>{familyOf(kind).usualFile(name)}</code>} here, or{' '}
      <UnstyledButton className={styles.choose} onClick={() => input.current?.click()}>
        choose the file
      </UnstyledButton>
      <input
        ref={input}
        type="file"
        aria-label={label}
        className={styles.input}
        tabIndex={-1}
        onChange={(event) => {
          onFile(event.target.files?.[0]);
          event.target.value = '';
        }}
      />
    </div>
  );
}

/**
 * Names a symbol file that is missing, or that does not fit, by its exact id and mends it: a command to copy, or the file dropped right
 * here.
 */
export function MissingSymbols(props: MissingSymbolsProps) {
  const { appSlug, server, version, build, kind, symbolId, name, cost, misfit = null, mayUpload } = props;
  const drop = useFileDrop((files) => void take(files[0]), mayUpload);
  const [state, setState] = useState<{ busy: string } | { problem: RequestProblem } | null>(null);
  const need = { kind, symbolId, name };
  const command = uploadCommand({ server, appSlug, version, build, need });
  const what = wordSymbolFile(need);

  const take = async (file: File | undefined) => {
    if (!file) return;
    setState({ busy: `Sending ${file.name} …` });
    try {
      await uploadSymbolFile({ appSlug, version, build, file });
      setState({ busy: `${file.name} is here. The stacks of ${version} become readable as it is indexed.` });
    } catch (error) {
      setState({ problem: problemOf(error) });
    }
  };

  return (
    <section className={styles.missing} {...drop} aria-label={`${misfit === null ? 'Missing' : 'Unfitting'} ${what} of ${version}`}>
      <div>
        <b>
          The {what} {kind === 'mapping' ? 'of' : 'in'} {version} ({build}) {misfit !== null ? 'does not fit' : `${isOrAre(need)} missing`}
        </b>
        {symbolId && (
          <>
            , {kind === 'mapping' ? 'map id' : 'id'} <code className={styles.id}>{symbolId}</code>
          </>
        )}
        .{' '}
        {misfit === null
          ? (cost ?? `Until it is here, this stack shows ${familyOf(kind).withoutIt}.`)
          : `${sentence(misfit)} Send the file of this build; it takes the place of the one that is here, which is kept.`}
      </div>
      <CommandBlock command={command} />
      {mayUpload && <ChooseFile {...{ kind, name }} label={`File with the ${what} of ${version}`} onFile={(file) => void take(file)} />}
      <div role="status">
        {state && 'busy' in state && state.busy}
        {state && 'problem' in state && (
          <>
            <b className={styles.refused}>{state.problem.message}</b> {state.problem.remedy}
          </>
        )}
      </div>
    </section>
  );
}
