/** What actions are called as files. */
import type { ActionJson } from '@kneader/core';

export const ACTION_ENDING = '.kneader-action.json';

/** A name that every system takes for a file. */
export const fileName = (name: string) =>
  name
    .replace(/[\\/:*?"<>|\u0000-\u001f]/g, '_')
    .replace(/^\.+/, '_')
    .slice(0, 80) || 'action';

export const actionFileName = ({ name }: ActionJson) => `${fileName(name)}${ACTION_ENDING}`;
