import { MantineProvider } from '@mantine/core';
import type { ReactNode } from 'react';
import { cssVariables, theme } from '../theme/theme';
import type { Frame } from './frame';
import { Palette } from './Palette';
import type { Place } from './places';
import { TopBar } from './TopBar';

/** Theme and top bar around the one island of a page. */
export function Shell({ frame, place, children }: { frame: Frame; place: Place | null; children: ReactNode }) {
  return (
    <MantineProvider theme={theme} cssVariablesResolver={cssVariables} defaultColorScheme="auto">
      <Palette frame={frame} />
      <TopBar frame={frame} place={place} />
      {children}
    </MantineProvider>
  );
}
