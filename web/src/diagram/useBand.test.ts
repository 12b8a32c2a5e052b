import { expect, test } from 'vitest';

import { between, placesIn } from './useBand';

const PLACES = [
  { id: 'W8', x: 30, y: 40 },
  { id: 'F1', x: 10, y: 10 },
  { id: 'K3', x: 20, y: 10 },
  // A wire that is cut has a mark at each of its halves.
  { id: 'W8', x: 30, y: 60 },
  { id: 'G1', x: 90, y: 90 },
];

test('a band is the same from whichever corner it is drawn', () => {
  const wanted = { x: 5, y: 7, width: 25, height: 43 };
  expect(between({ x: 5, y: 7 }, { x: 30, y: 50 })).toEqual(wanted);
  expect(between({ x: 30, y: 7 }, { x: 5, y: 50 })).toEqual(wanted);
});

test('the places in it come from the top down, each once', () => {
  expect(placesIn({ places: PLACES }, { x: 0, y: 0, width: 50, height: 80 })).toEqual(['F1', 'K3', 'W8']);
  expect(placesIn({ places: PLACES }, { x: 40, y: 0, width: 10, height: 10 })).toEqual([]);
});
