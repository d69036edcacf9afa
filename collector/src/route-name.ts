/** The state of a navigator as routers for mobile hosts keep it: routes, the index of the one that is shown, and in it the same again. */
export interface NavigationState {
  readonly index?: number;
  readonly routes: readonly { readonly name: string; readonly state?: NavigationState }[];
}

/** Navigators lie in each other only so deep. */
const deepest = 20;

/** The name of the screen that a navigator shows, the innermost one: `onStateChange={(state) => collector.screen(routeName(state))}`. */
export function routeName(state: NavigationState | undefined): string {
  let [name, at] = ['', state];
  for (let depth = 0; at && depth < deepest; depth++) {
    const route: NavigationState['routes'][number] | undefined = at.routes[at.index ?? at.routes.length - 1];
    name = route?.name ?? name;
    at = route?.state;
  }
  return name;
}
