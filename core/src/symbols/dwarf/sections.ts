/** Which sections the readers use, by the names of DWARF 5 section 7; a section that a file lacks is empty. */
export const dwarfSectionNames = [
  'debug_info',
  'debug_types',
  'debug_abbrev',
  'debug_line',
  'debug_str',
  'debug_line_str',
  'debug_str_offsets',
  'debug_addr',
  'debug_ranges',
  'debug_rnglists',
  'debug_cu_index',
] as const;
export type DwarfSectionName = (typeof dwarfSectionNames)[number];

/** The sections of one file: of a linked image, or the `.dwo` sections of split units. */
export type DwarfSections = Readonly<Record<DwarfSectionName, Uint8Array>>;

const nothing = new Uint8Array(0);

export const dwarfSections = (given: Partial<DwarfSections>): DwarfSections =>
  ({ ...Object.fromEntries(dwarfSectionNames.map((name) => [name, nothing])), ...given }) as DwarfSections;
