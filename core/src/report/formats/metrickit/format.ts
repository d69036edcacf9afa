import { success } from '../../../result.ts';
import type { CrashFormat } from '../crash-format.ts';
import { reportsPerFile } from '../found-report.ts';
import { asObjects } from '../json-reader.ts';
import { isMetricKit, readMetricKit } from './read.ts';

/** Payloads that an app has collected come as a list. */
export const metricKit = {
  name: 'metrickit',
  words: 'MetricKit diagnostic payload',
  readJson: ({ whole, list }) => {
    if (list) return success(asObjects(list).filter(isMetricKit).slice(0, reportsPerFile).flatMap(readMetricKit));
    return whole && isMetricKit(whole) ? success(readMetricKit(whole)) : null;
  },
} as const satisfies CrashFormat;
