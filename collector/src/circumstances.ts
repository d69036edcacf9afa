import type { Attributes, AttributeValue } from './item.ts';
import type { CollectorOptions } from './options.ts';

/** What every item says of the app, the device and the person at its time; the app changes it while it runs. */
export class Circumstances {
  private readonly attributes: Record<string, AttributeValue> = {};
  private readonly flags: Record<string, string> = {};
  personId: string | null;
  contact: string | null = null;
  private isAsking = false;

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
      contact: this.contact,
      network: networkNow(),
      flags: { ...this.flags },
      attributes,
      ...this.told(),
    };
  }

  /** What the app says of the device and its surroundings; what fails there, or reports something itself, costs that alone. */
  private told(): object {
    if (this.isAsking) return {};
    this.isAsking = true;
    try {
      return this.options.circumstances?.() ?? {};
    } catch {
      return {};
    } finally {
      this.isAsking = false;
    }
  }
}

/** As far as a browser tells it (the Network Information API); null where it does not. */
function networkNow(): 'none' | 'wifi' | 'cellular' | 'wired' | null {
  const known = globalThis.navigator as (Navigator & { connection?: { type?: string } }) | undefined;
  if (known?.onLine === false) return 'none';
  const names: Readonly<Record<string, 'none' | 'wifi' | 'cellular' | 'wired'>> = {
    none: 'none',
    wifi: 'wifi',
    cellular: 'cellular',
    ethernet: 'wired',
  };
  return names[known?.connection?.type ?? ''] ?? null;
}
