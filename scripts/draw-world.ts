import { readFileSync, writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

/** What this script needs of the packages, which bring no types along. */
interface Feature {
  readonly id?: string;
  readonly properties: { readonly name: string };
}

/** Numbers of ISO 3166-1 that the shapes give; these have one of two letters that is commonly used and in no list. */
const common: Readonly<Record<string, string>> = { Kosovo: 'XK' };
const antarctica = '010';

/**
 * Draws the countries of the world, to be committed: Natural Earth at 1:110 million (public domain, as world-atlas packs it) in the Equal
 * Earth projection, which keeps areas, each with its two letters of ISO 3166-1.
 */
export async function main(): Promise<void> {
  const [{ feature }, { geoEqualEarth, geoPath }, { default: iso }] = (await Promise.all(
    ['topojson-client', 'd3-geo', 'i18n-iso-countries'].map((name) => import(name)),
  )) as [
    { feature(topology: object, objects: object): { readonly features: readonly Feature[] } },
    {
      geoEqualEarth(): { fitExtent(extent: readonly number[][], shape: object): object };
      geoPath(projection: object): { digits(count: number): (shape: Feature) => string };
    },
    { readonly default: { numericToAlpha2(number: string): string | undefined } },
  ];
  const topology = JSON.parse(readFileSync(fileURLToPath(import.meta.resolve('world-atlas/countries-110m.json')), 'utf8'));
  const features = feature(topology, topology.objects.countries).features.filter(({ id }) => id !== antarctica);
  const shapes = { type: 'FeatureCollection', features };
  const path = geoPath(
    geoEqualEarth().fitExtent(
      [
        [2, 2],
        [718, 348],
      ],
      shapes,
    ),
  ).digits(1);
  const countries = features.map((one) => {
    const letters = one.id === undefined ? common[one.properties.name] : iso.numericToAlpha2(one.id);
    return [letters ?? '', one.properties.name, path(one)];
  });
  const target = fileURLToPath(new URL('../web/src/ask/world-shapes.json', import.meta.url));
  writeFileSync(target, `[\n${countries.map((one) => JSON.stringify(one)).join(',\n')}\n]\n`);
}
