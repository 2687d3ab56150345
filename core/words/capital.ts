/** The text with its first letter large: "Motors 1 and 2". */
export const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);
