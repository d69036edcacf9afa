import type { ReadableReport } from './readable-report.ts';

const relationWords = { thrown: '', cause: 'Caused by: ', suppressed: 'Suppressed: ' } as const;

/** The readable stacks as text, in the form that people know from their console. */
export function stackText(report: ReadableReport): string {
  const lines: string[] = [];
  for (const { type, message, relation, frames, framesInCommon, framesLeftOut } of report.exceptions) {
    const cutAt = framesLeftOut ? frames.findIndex((frame) => frame.rawIndex >= framesLeftOut.after) : -1;
    lines.push(`${relationWords[relation]}${type}${message === null ? '' : `: ${message}`}`);
    for (const [at, frame] of frames.slice(0, frames.length - framesInCommon).entries()) {
      if (at === cutAt) lines.push(`    ... ${framesLeftOut?.count} frames were cut out here`);
      lines.push(
        `    at ${frame.function}(${frame.file ?? 'Unknown Source'}${frame.line === null ? '' : `:${frame.line}`})${frame.inlined ? ' [inlined]' : ''}`,
      );
    }
    if (framesInCommon > 0) lines.push(`    ... ${framesInCommon} more`);
  }
  return lines.join('\n');
}

/** The same as a Markdown block for a ticket, under the case's title and address. */
export function stackMarkdown(report: ReadableReport, title: string, address: string): string {
  return `**[${title}](${address})**\n\n\`\`\`\n${stackText(report)}\n\`\`\`\n`;
}
