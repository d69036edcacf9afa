/** A text as a sentence of its own: with a full stop, unless it ends in one already. */
export const sentence = (text: string): string => (/[.!?…”"]$/.test(text.trimEnd()) ? text : `${text.trimEnd()}.`);

/** A text whose first letter is a capital, for the head of a line. */
export const capitalised = (text: string): string => text.replace(/^./, (letter) => letter.toUpperCase());
