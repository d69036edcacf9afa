import { UnstyledButton } from '@mantine/core';
import { useRef, useState } from 'react';
import { RequestProblem } from '../client/api';
import { CommandBlock } from '../shell/CommandBlock';
import styles from './MissingMapping.module.css';
import { uploadCommand } from './upload-command';
import { uploadSymbolFile } from './upload-symbol-file';

export interface MissingMappingProps {
  readonly appSlug: string;
  readonly serverAddress: string;
  readonly version: string;
  readonly build: string;
  readonly mapId: string | null;
  /** What the missing file costs, in words. */
  readonly cost?: string;
  readonly mayUpload: boolean;
}

/** Names a missing mapping by its exact id and mends it: a command to copy, or the file dropped right here. */
export function MissingMapping({ appSlug, serverAddress, version, build, mapId, cost, mayUpload }: MissingMappingProps) {
  const input = useRef<HTMLInputElement>(null);
  const [over, setOver] = useState(false);
  const [state, setState] = useState<{ busy: string } | { problem: RequestProblem } | null>(null);
  const command = uploadCommand({ serverAddress, appSlug, version, build });

  const take = async (file: File | undefined) => {
    if (!file) return;
    setState({ busy: `Sending ${file.name} …` });
    try {
      await uploadSymbolFile({ appSlug, version, build, file });
      setState({ busy: `${file.name} is here. The stacks of ${version} become readable as it is indexed.` });
    } catch (error) {
      setState({ problem: error instanceof RequestProblem ? error : new RequestProblem(String(error), 'Try again.') });
    }
  };

  return (
    <section
      className={styles.missing}
      data-over={over}
      aria-label={`Missing mapping of ${version}`}
      onDragOver={(event) => {
        if (!mayUpload) return;
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        if (!mayUpload) return;
        event.preventDefault();
        setOver(false);
        void take(event.dataTransfer.files[0]);
      }}
    >
      <div>
        <b>
          The mapping of {version} ({build}) is missing
        </b>
        {mapId && (
          <>
            , map id <code>{mapId}</code>
          </>
        )}
        . {cost ?? 'Until it is here, this stack shows the obfuscated names.'}
      </div>
      <CommandBlock command={command} />
      {mayUpload && (
        <div>
          or drop <code>mapping.txt</code> here, or{' '}
          <UnstyledButton className={styles.choose} onClick={() => input.current?.click()}>
            choose the file
          </UnstyledButton>
          <input
            ref={input}
            type="file"
            aria-label={`Mapping file of ${version}`}
            className={styles.input}
            tabIndex={-1}
            onChange={(event) => {
              void take(event.target.files?.[0]);
              event.target.value = '';
            }}
          />
        </div>
      )}
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
