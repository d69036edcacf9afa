export type { Attributes, AttributeValue, BeforeSend, Kind } from './item.ts';
export type { CollectorOptions } from './options.ts';
export { type NavigationState, routeName } from './route-name.ts';
export type { Collector } from './start-collector.ts';
export { startCollector } from './start-collector.ts';
export type { Storage } from './storage.ts';
