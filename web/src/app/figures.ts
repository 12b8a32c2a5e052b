// Figures in columns: a number keeps to its line, a sentence that a scan tool shows does not.

/** The class of a cell with what an instrument shows. */
export const figure = (text: string) => (text.length > 12 ? 'number words' : 'number');
