/** The captured motion that several rows use: 01_01.bvh of Debian's package `assimp-testmodels`. */
import { readFileSync } from 'node:fs';

export const CAPTURED_TEXT = readFileSync('/usr/share/assimp/models/BVH/01_01.bvh', 'utf8');
