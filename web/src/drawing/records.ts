/** Columns of a nest's records (nestline.rows.SCREEN_RECORD). Written by `./nest schema`. */
export const LINE = 0;
export const BASELINE = 1;
export const TOP = 2;
export const BOTTOM = 3;
export const SLOT_LEFT = 4;
export const SLOT_RIGHT = 5;
export const LEFT = 6;
export const RIGHT = 7;
export const START = 8;
export const END = 9;
export const PAST = 10;
export const FIRST_WORD = 11;
export const WORDS = 12;
export const HYPHEN = 13;
export const TRACKING = 14;
export const WIDE = 15;
export const COLUMNS = 16;
