import type { ToldItem } from '@rough-ember/server/told/load-told';
import { wordTold } from './told-words';

/** Shows what somebody is told as a notice of the browser, which leads to what else they were told. */
export function showNotice(item: ToldItem, appSlug: string, self: string): void {
  const body = item.case ? `${item.case.ref} ${item.case.what} in ${item.case.where}` : (item.told?.headline ?? '');
  const notice = new Notification(`${item.app.name}: ${wordTold(item, self)}`, { body, tag: `ember-${item.id}` });
  notice.onclick = () => {
    window.focus();
    window.location.assign(`/apps/${appSlug}/for-you`);
  };
}
