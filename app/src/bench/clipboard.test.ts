import { describe, expect, test } from '@jest/globals';
import { NOTHING } from '@kneader/core';
import { choose, curve, puppet } from '../../../core/src/testing/shot-literals.ts';
import { clippingOf, clippingText, readClipping } from './clipboard.ts';

const shot = puppet({ 'hips.ty': curve([0, 1, 10, 5, 24, 2]), 'arm_l.rz': curve([4, 30]) });

describe('what is copied', () => {
  test('chosen keys as keys', () => {
    const clipping = clippingOf(shot, choose({ keys: { 'hips.ty': [2] } }), 7);
    expect(clipping.kind).toBe('keys');
    const read = readClipping(clippingText(clipping));
    expect(read).toEqual(clipping);
    expect(read.kind === 'keys' && Object.keys(read.clip.curves)).toEqual(['hips.ty']);
  });

  test('a chosen range as the keys in it', () => {
    const clipping = clippingOf(shot, choose({ nodes: ['hips'], range: { start: 8, end: 12 } }), 7);
    expect(clipping.kind).toBe('keys');
  });

  test.each([
    ['nothing', NOTHING],
    ['a control', choose({ nodes: ['arm_l'] })],
    ['keys of which none is left', choose({ nodes: ['arm_l'], keys: { 'arm_l.rz': [] } })],
  ])('with %s chosen the pose at the frame', (_, selection) => {
    const clipping = clippingOf(shot, selection, 4);
    expect(clipping.kind === 'pose' && clipping.pose.values['arm_l.rz']).toBe(30);
    expect(readClipping(clippingText(clipping))).toEqual(clipping);
  });
});

describe('what a text holds', () => {
  test.each([
    ['', /empty/],
    ['  \n', /empty/],
    ['flour, water, salt', /other text/],
    ['[1, 2]', /other text/],
    ['null', /other text/],
    ['{"format": "bread"}', /other text/],
    ['{"format": "kneader-pose", "values": 3}', /pose on the clipboard is damaged/],
    ['{"format": "kneader-keys", "curves": 3}', /\.$/],
  ])('%j is refused with a sentence', (text, sentence) => {
    const read = readClipping(text);
    expect(read.kind === 'nothing' && read.sentence).toMatch(sentence);
  });
});
