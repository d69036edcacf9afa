import { MantineProvider } from '@mantine/core';
import type { ReactNode } from 'react';
import { cssVariables, theme } from '../theme/theme';
import { useBrowserNotices } from '../told/browser-notices';
import { Palette } from './Palette';
import type { PageShell } from './page-shell';
import type { Place } from './places';
import { TopBar } from './TopBar';
import { useZone, ZoneProvider } from './use-times';

/** Theme and top bar around the one island of a page. */
export function Shell({ shell, place, children }: { shell: PageShell; place: Place | null; children: ReactNode }) {
  const zone = useZone(shell);
  useBrowserNotices(shell.app.slug, shell.account.email);
  return (
    <MantineProvider theme={theme} cssVariablesResolver={cssVariables} defaultColorScheme="auto">
      <ZoneProvider value={zone}>
        <Palette shell={shell} />
        <TopBar shell={shell} place={place} />
        {children}
      </ZoneProvider>
    </MantineProvider>
  );
}
