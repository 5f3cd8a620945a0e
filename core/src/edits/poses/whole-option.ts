/** Whether a pose is keyed in part where not all of it can be shown. */
import { z } from 'zod';

export const wholeOption = z.boolean().default(false).meta({
  title: 'All or nothing',
  description: 'Where a filter or a pass keeps part of the pose from showing, nothing is keyed at all.',
});
