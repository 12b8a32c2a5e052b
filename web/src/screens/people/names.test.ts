import { describe, expect, it } from 'vitest';

import { readNames } from './names';

describe('a pasted list of names', () => {
  it('is a person a line, with the name to sign in with where there is one', () => {
    expect(readNames(' A. Moreno \n\nB. Varga, bela\r\nC. Okoro\tcasey\n')).toEqual([
      { display: 'A. Moreno' },
      { display: 'B. Varga', name: 'bela' },
      { display: 'C. Okoro', name: 'casey' },
    ]);
    expect(readNames('  \n')).toEqual([]);
  });
});
