import { describe, expect, it } from 'vitest';

import { figure } from './figures';

describe('a figure in its column', () => {
  it('keeps to its line, and a sentence does not', () => {
    expect(['12.60', 'OL', '0.2 to 0.4'].map(figure)).toEqual(['number', 'number', 'number']);
    expect(figure('A21 lever sensors disagree')).toBe('number words');
  });
});
