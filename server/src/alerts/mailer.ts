import { createTransport } from 'nodemailer';
import type { Settings } from '../settings.ts';
import { type Mailer, SendProblem } from './channels/channel-kind.ts';

/**
 * Whether the address or the letter was refused for good (RFC 5321, section 4.2.1). A refused login is not: whoever runs the server will mend
 * it, and what waits goes out then.
 */
const isRefusal = ({ code, responseCode }: { code?: unknown; responseCode?: unknown }): boolean =>
  (code === 'EENVELOPE' || code === 'EMESSAGE') && typeof responseCode === 'number' && responseCode >= 500;

/** How mail leaves the server; null when the settings name no way. `publicUrl` is asked at each letter, since it is known late. */
export function openMailer({ smtpUrl, mailFrom }: Pick<Settings, 'smtpUrl' | 'mailFrom'>, publicUrl: () => string): Mailer | null {
  if (smtpUrl === undefined) return null;
  const transport = createTransport({ url: smtpUrl, connectionTimeout: 20_000, greetingTimeout: 20_000, socketTimeout: 60_000 });
  const domain = mailFrom.split('@').at(-1)?.replace(/>$/, '') ?? 'localhost';
  return {
    send: async ({ to, message, messageId, unsubscribePath, isOneClick }) => {
      const thread =
        message.thread === ''
          ? {}
          : { references: `<${message.thread.toLowerCase()}@${domain}>`, inReplyTo: `<${message.thread.toLowerCase()}@${domain}>` };
      try {
        const sent = await transport.sendMail({
          from: mailFrom,
          to: [...to],
          subject: message.subject,
          text: message.text,
          html: message.html,
          messageId: `<${messageId}@${domain}>`,
          ...thread,
          headers: {
            'Auto-Submitted': 'auto-generated',
            'List-Unsubscribe': `<${publicUrl()}${unsubscribePath}>`,
            ...(isOneClick ? { 'List-Unsubscribe-Post': 'List-Unsubscribe=One-Click' } : {}),
          },
        });
        return sent.response;
      } catch (error) {
        throw new SendProblem(
          error instanceof Error ? error.message : String(error),
          isRefusal(error as { code?: unknown; responseCode?: unknown }),
        );
      }
    },
    close: () => transport.close(),
  };
}
