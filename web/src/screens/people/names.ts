// A pasted list of names: a person a line, and what they sign in with behind a comma or a tabulator.
import type { Schemas } from '../../api/client';

export function readNames(text: string): Schemas['Newcomer'][] {
  const lines = text
    .split(/\r?\n/)
    .map((line) => line.trim())
    .filter((line) => line !== '');
  return lines.map((line) => {
    const [display = '', name] = line.split(/[,;\t]/).map((part) => part.trim());
    return name ? { display, name } : { display };
  });
}
