import { Button, Menu, Textarea, TextInput, UnstyledButton } from '@mantine/core';
import { chartWidths, moved, type SheetChart } from '@rough-ember/core/ask/sheet';
import { parseScope, type Scope } from '@rough-ember/core/scope/scope';
import { type KeyboardEvent, type SubmitEvent, useState } from 'react';
import { addressOf } from '../client/api';
import { ScopeContext, useScope } from '../scope/scope-context';
import { askAddress } from './ask-address';
import { ChartCard } from './ChartCard';
import styles from './Sheet.module.css';
import { useChartAnswer } from './use-chart-answer';

interface SheetChartsProps {
  readonly charts: readonly SheetChart[];
  /** Of the charts that have none of their own. */
  readonly scope: Scope;
  /** Null where they cannot be changed. */
  readonly onChange: ((charts: readonly SheetChart[]) => void) | null;
}

const everyMs = 60_000;

/** The charts of a sheet side by side; what may be changed is moved by dragging or with the arrow keys. */
export function SheetCharts({ charts, scope, onChange }: SheetChartsProps) {
  const [dragged, setDragged] = useState<number | null>(null);
  const [over, setOver] = useState<number | null>(null);
  const drop = () => {
    if (dragged !== null && over !== null && dragged !== over) onChange?.(moved(charts, dragged, over));
    setDragged(null);
    setOver(null);
  };
  return (
    <ol className={styles.charts}>
      {charts.map((chart, at) => (
        <li
          key={`${chart.title} ${chart.question} ${chart.scope}`}
          data-width={chart.width}
          data-over={over === at && dragged !== at}
          onDragOver={(event) => {
            if (dragged === null) return;
            event.preventDefault();
            setOver(at);
          }}
          onDrop={drop}
        >
          <PlacedChart
            chart={chart}
            scope={scope}
            onDrag={onChange && ((isDragged) => (isDragged ? setDragged(at) : drop()))}
            onMove={onChange && ((places) => onChange(moved(charts, at, at + places)))}
            onChange={
              onChange &&
              ((next) =>
                onChange(
                  next === null ? charts.filter((_, place) => place !== at) : charts.map((one, place) => (place === at ? next : one)),
                ))
            }
          />
        </li>
      ))}
    </ol>
  );
}

interface PlacedChartProps {
  readonly chart: SheetChart;
  readonly scope: Scope;
  readonly onDrag: ((isDragged: boolean) => void) | null;
  readonly onMove: ((places: number) => void) | null;
  /** Null takes it off the sheet. */
  readonly onChange: ((chart: SheetChart | null) => void) | null;
}

function PlacedChart({ chart, scope: ofSheet, onDrag, onMove, onChange }: PlacedChartProps) {
  const [isEdited, setIsEdited] = useState(false);
  const holder = useScope();
  const appSlug = holder?.appSlug ?? '';
  const own = chart.scope === null ? null : parseScope(new URLSearchParams(chart.scope));
  const scope = own?.ok ? own.value : ofSheet;
  const asked = askAddress(`/apps/${appSlug}`, chart.question, scope);
  const parameters = asked.slice(asked.indexOf('?') + 1);
  const { answer, problem } = useChartAnswer(addressOf('GET /apps/{app}/ask', { app: appSlug }, parameters), everyMs);
  // What is clicked in a chart is looked at on Ask, in the scope of the chart.
  const change = (next: Scope) => window.location.assign(askAddress(`/apps/${appSlug}`, chart.question, next));
  return (
    <ScopeContext value={{ scope, appSlug, change }}>
      <ChartCard chart={chart} answer={answer} problem={problem}>
        <span className={styles.tools}>
          {onMove && onDrag && (
            <UnstyledButton
              className={styles.handle}
              draggable
              aria-label={`Move ${chart.title}: drag it, or press an arrow key`}
              title="drag it, or press an arrow key"
              onDragStart={(event) => {
                event.dataTransfer.setData('text/plain', chart.title);
                onDrag(true);
              }}
              onDragEnd={() => onDrag(false)}
              onKeyDown={(event: KeyboardEvent) => {
                const places = { ArrowUp: -1, ArrowLeft: -1, ArrowDown: 1, ArrowRight: 1 }[event.key];
                if (places === undefined) return;
                event.preventDefault();
                onMove(places);
              }}
            >
              ⠿
            </UnstyledButton>
          )}
          <Menu width={210} position="bottom-end">
            <Menu.Target>
              <UnstyledButton className={styles.handle} aria-label={`Do something with ${chart.title}`}>
                ⋯
              </UnstyledButton>
            </Menu.Target>
            <Menu.Dropdown>
              <Menu.Item component="a" href={asked}>
                Open it on Ask
              </Menu.Item>
              {onChange && (
                <>
                  <Menu.Item onClick={() => setIsEdited(true)}>Title and note …</Menu.Item>
                  <Menu.Divider />
                  {chartWidths.map((width) => (
                    <Menu.Item key={width} disabled={width === chart.width} onClick={() => onChange({ ...chart, width })}>
                      {width === 'whole' ? 'As wide as the sheet' : `As wide as a ${width} of it`}
                    </Menu.Item>
                  ))}
                  <Menu.Divider />
                  {chart.scope !== null && (
                    <Menu.Item onClick={() => onChange({ ...chart, scope: null })}>Use the scope of the sheet</Menu.Item>
                  )}
                  <Menu.Item onClick={() => onChange(null)}>Take it off the sheet</Menu.Item>
                </>
              )}
            </Menu.Dropdown>
          </Menu>
        </span>
      </ChartCard>
      {isEdited && onChange && (
        <ChartForm
          chart={chart}
          onDone={(next) => {
            setIsEdited(false);
            onChange(next);
          }}
          onLeave={() => setIsEdited(false)}
        />
      )}
    </ScopeContext>
  );
}

function ChartForm({ chart, onDone, onLeave }: { chart: SheetChart; onDone: (chart: SheetChart) => void; onLeave: () => void }) {
  const keep = (event: SubmitEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    onDone({ ...chart, title: String(form.get('title')).trim() || chart.title, note: String(form.get('note')) });
  };
  return (
    <form className={styles.form} onSubmit={keep}>
      <TextInput name="title" label="Title" defaultValue={chart.title} maxLength={200} required autoFocus />
      <Textarea name="note" label="Note" defaultValue={chart.note} maxLength={2_000} autosize />
      <span>
        <Button type="submit" size="compact-sm">
          Keep
        </Button>{' '}
        <Button size="compact-sm" variant="subtle" onClick={onLeave}>
          Leave it
        </Button>
      </span>
    </form>
  );
}
