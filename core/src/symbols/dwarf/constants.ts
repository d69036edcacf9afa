/** Numbers of DWARF 5 section 7 that the readers use, spelled as there; GNU ones are extensions of GCC and binutils. */
export const DW_TAG = {
  class_type: 0x02,
  enumeration_type: 0x04,
  lexical_block: 0x0b,
  compile_unit: 0x11,
  structure_type: 0x13,
  union_type: 0x17,
  inlined_subroutine: 0x1d,
  module: 0x1e,
  subprogram: 0x2e,
  namespace: 0x39,
  interface_type: 0x38,
  partial_unit: 0x3c,
  type_unit: 0x41,
  skeleton_unit: 0x4a,
} as const;

export const DW_AT = {
  sibling: 0x01,
  name: 0x03,
  stmt_list: 0x10,
  low_pc: 0x11,
  high_pc: 0x12,
  language: 0x13,
  comp_dir: 0x1b,
  abstract_origin: 0x31,
  specification: 0x47,
  ranges: 0x55,
  call_column: 0x57,
  call_file: 0x58,
  call_line: 0x59,
  linkage_name: 0x6e,
  str_offsets_base: 0x72,
  addr_base: 0x73,
  rnglists_base: 0x74,
  dwo_name: 0x76,
  MIPS_linkage_name: 0x2007,
  GNU_dwo_name: 0x2130,
  GNU_dwo_id: 0x2131,
  GNU_ranges_base: 0x2132,
  GNU_addr_base: 0x2133,
} as const;

export const DW_FORM = {
  addr: 0x01,
  block2: 0x03,
  block4: 0x04,
  data2: 0x05,
  data4: 0x06,
  data8: 0x07,
  string: 0x08,
  block: 0x09,
  block1: 0x0a,
  data1: 0x0b,
  flag: 0x0c,
  sdata: 0x0d,
  strp: 0x0e,
  udata: 0x0f,
  ref_addr: 0x10,
  ref1: 0x11,
  ref2: 0x12,
  ref4: 0x13,
  ref8: 0x14,
  ref_udata: 0x15,
  indirect: 0x16,
  sec_offset: 0x17,
  exprloc: 0x18,
  flag_present: 0x19,
  strx: 0x1a,
  addrx: 0x1b,
  ref_sup4: 0x1c,
  strp_sup: 0x1d,
  data16: 0x1e,
  line_strp: 0x1f,
  ref_sig8: 0x20,
  implicit_const: 0x21,
  loclistx: 0x22,
  rnglistx: 0x23,
  ref_sup8: 0x24,
  strx1: 0x25,
  strx2: 0x26,
  strx3: 0x27,
  strx4: 0x28,
  addrx1: 0x29,
  addrx2: 0x2a,
  addrx3: 0x2b,
  addrx4: 0x2c,
  GNU_addr_index: 0x1f01,
  GNU_str_index: 0x1f02,
  GNU_ref_alt: 0x1f20,
  GNU_strp_alt: 0x1f21,
} as const;

export const DW_UT = { compile: 1, type: 2, partial: 3, skeleton: 4, split_compile: 5, split_type: 6 } as const;

/** Contributions to a package of split units: version 5 (DWARF 5 section 7.3.5.3) and version 2 (the GNU proposal before it). */
export const DW_SECT = { info: 1, abbrev: 3, line: 4, locListsOr2: 5, strOffsets: 6, rngListsOr7: 8 } as const;

export const DW_RLE = {
  end_of_list: 0,
  base_addressx: 1,
  startx_endx: 2,
  startx_length: 3,
  offset_pair: 4,
  base_address: 5,
  start_end: 6,
  start_length: 7,
} as const;

export const DW_LNS = {
  copy: 1,
  advance_pc: 2,
  advance_line: 3,
  set_file: 4,
  set_column: 5,
  negate_stmt: 6,
  set_basic_block: 7,
  const_add_pc: 8,
  fixed_advance_pc: 9,
  set_prologue_end: 10,
  set_epilogue_begin: 11,
  set_isa: 12,
} as const;

export const DW_LNE = { end_sequence: 1, set_address: 2, define_file: 3, set_discriminator: 4 } as const;

export const DW_LNCT = { path: 1, directory_index: 2 } as const;

/** Languages whose functions have no enclosing namespaces or classes to name. */
export const languagesWithoutScopes: ReadonlySet<number> = new Set([0x01, 0x02, 0x0c, 0x1d, 0x2c, 0x8001]);
