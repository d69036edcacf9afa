import type { Attributes, AttributeValue } from './item.ts';
import type { CollectorOptions } from './options.ts';

/** What every item says of the app, the device and the person at its time; the app changes it while it runs. */
export class Circumstances {
  private readonly attributes: Record<string, AttributeValue> = {};
  private readonly flags: Record<string, string> = {};
  personId: string | null;

  constructor(
    private readonly options: CollectorOptions,
    readonly installationId: string,
  ) {
    this.personId = options.personId ?? null;
  }

  /** Null takes the attribute away. */
  setAttribute(name: string, value: AttributeValue | null): void {
    if (value === null) delete this.attributes[name];
    else this.attributes[name] = value;
  }

  /** Null takes the flag away. */
  setFlag(name: string, variant: string | null): void {
    if (variant === null) delete this.flags[name];
    else this.flags[name] = variant;
  }

  /** As they are now; what is changed later changes nothing in it. */
  now() {
    const { version, build, buildType = 'release', os = null, device = null } = this.options;
    const attributes: Attributes = { ...this.attributes };
    return {
      version,
      build,
      buildType,
      os,
      device,
      locale: (globalThis.navigator as Navigator | undefined)?.language ?? null,
      installationId: this.installationId,
      personId: this.personId,
      flags: { ...this.flags },
      attributes,
    };
  }
}
