/** Relative luminance of Rec. 709 primaries (ITU-R BT.709-6): what the eye makes of their light. */
export const luminance = (r: number, g: number, b: number): number => 0.2126 * r + 0.7152 * g + 0.0722 * b;
