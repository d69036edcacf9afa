import type { DeskSettings } from '@rough-ember/core/cases/desk-settings';
import { createContext, useContext } from 'react';

/** Where the frames of a stack lead to. */
export interface FrameDestinations {
  readonly settings: Pick<DeskSettings, 'editor' | 'repository' | 'sources'>;
  readonly appSlug: string;
  readonly version: string;
  /** Address of the app's grouping rules; null for whoever may not change them. */
  readonly rules: string | null;
}

export const FrameLinks = createContext<FrameDestinations | null>(null);
export const useFrameLinks = (): FrameDestinations | null => useContext(FrameLinks);
