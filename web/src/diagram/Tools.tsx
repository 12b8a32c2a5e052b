// What a teacher finds above every diagram: its file, and the faces of its connectors.
import { memo } from 'react';

import type { Drawing } from '../api/client';
import { Faces } from './Faces';
import { SvgLink } from './SvgLink';

export const Tools = memo(function Tools({ drawing }: { drawing: Drawing }) {
  return (
    <>
      <SvgLink title={drawing.title} /> <Faces drawing={drawing} />
    </>
  );
});
