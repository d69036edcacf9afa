import type { MachSection } from './macho-file.ts';

const S_ATTR_PURE_INSTRUCTIONS = 0x8000_0000;
const S_ATTR_SOME_INSTRUCTIONS = 0x400;

export const isCodeSection = ({ flags, sizeBytes }: MachSection): boolean =>
  sizeBytes > 0 && (flags & (S_ATTR_PURE_INSTRUCTIONS | S_ATTR_SOME_INSTRUCTIONS)) !== 0;
