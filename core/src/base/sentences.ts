/**
 * The one table of texts that say what is wrong, where, and what to do. Every sentence that a user
 * can be shown by the core stands here, so that they read as one voice and none is written twice.
 */
const thousands = (count: number) => count.toLocaleString('en-US');
const plural = (count: number, one: string, many = `${one}s`) =>
  `${thousands(count)} ${count === 1 ? one : many}`;
const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);
/** A number as people read it: two places at most. */
const short = (value: number) => String(Number(value.toFixed(2)));
/** `+z` is “z”, `-z` “−z”. */
const axis = (up: string) => up.replace('+', '').replace('-', '−');
const listed = (names: readonly string[]) =>
  names.length <= 6 ? names.join(', ') : `${names.slice(0, 6).join(', ')} and ${names.length - 6} more`;

/** @param cm over the floor; under it where that is negative */
const offFloor = (cm: number) => `${short(Math.abs(cm) * 10)} mm ${cm < 0 ? 'under' : 'over'} the floor`;

const placeAndTurn = (cm: number, degrees: number) =>
  [...(cm > 0.01 ? [`${short(cm)} cm`] : []), ...(degrees > 0.01 ? [`${short(degrees)}°`] : [])].join(
    ' and ',
  );

export const sentences = {
  // Selections and options
  nothingSelected: (what: string) => `Nothing is selected: select ${what} first.`,
  noKeysInSelection: () => 'There is no key in the selection: widen the range or select other channels.',
  nobodyLags: (count: number) =>
    count === 1
      ? 'One control alone has nothing to lag behind: select more of its chain.'
      : 'The selected controls are at the same level of their chains, so nothing lags: choose the order “as selected”, or add controls further down.',
  endsDiffer: (names: readonly string[]) =>
    `Its first and last frame differ where the motion below matches, so the loop will pop: ${listed(names)}.`,
  hidesBelow: (names: readonly string[]) => `It covers the motion below on every frame: ${listed(names)}.`,
  goesFaster: (node: string, before: number, after: number, frame: number) =>
    `${node} moves ${after.toFixed(1)} cm in one frame at ${frame}; without this the fastest joint moves ${before.toFixed(1)} cm.`,
  goesFarther: (before: number, after: number) =>
    `Joints end up to ${after.toFixed(0)} cm from where they start; without this ${before.toFixed(0)} cm.`,
  noKeysToFollow: (node: string) =>
    `“${node}” has no key on the base, so there is no drawing to hold: choose another control.`,
  followSeam: (degrees: number) =>
    degrees < 0.01
      ? 'The loop closes: its end leads over to its start.'
      : `The loop does not close: its ends are ${short(degrees)}° apart. More damping or air lets it settle.`,
  followKicked: (times: number, millimetres: number, frame: number) =>
    `What it hangs on leaps at ${plural(times, 'frame')}, by up to ${short(millimetres)} mm at frame ${short(frame)}, and each leap kicks it. Laid below a filter that steps, or over splined keys, it swings evenly.`,
  tooLongToFollow: (most: number) =>
    `Follow-through runs over ${thousands(most)} frames at most, and the shot is longer: give it a range.`,
  aboveNyquist: (hertz: number, most: number) =>
    `${hertz} Hz is faster than frames can show: at most ${most} Hz at this frame rate.`,
  noKeysChosen: () =>
    'No keys are chosen: touch some in the curves lane, draw a box around them (Ctrl A takes all), or mark a range.',
  frameRateKept: (from: number, to: number) =>
    `Keys stay on their frames: at ${to} frames per second instead of ${from} the same motion plays ${to > from ? 'faster' : 'slower'}.`,
  keysBeyondRange: (count: number) =>
    `${plural(count, 'key lies', 'keys lie')} outside the shot now: nothing was deleted, and a longer range shows them again.`,
  unknownChannel: (channel: string) => `The shot has no channel “${channel}”.`,
  unknownNode: (node: string) => `The shot has no control “${node}”.`,
  unknownPass: (pass: string) => `The shot has no pass “${pass}”: it may have been removed.`,
  unknownFilter: (filter: string) => `The shot has no filter “${filter}”: it may have been removed.`,
  unknownKind: (kind: string) => `“${kind}” is no kind of filter that can be turned here.`,
  unknownVariant: (variant: string) => `The shot has no variant “${variant}”: it may have been removed.`,
  unknownEdit: (id: string) => `There is no edit called “${id}”: “kneader edits” lists them all.`,
  badOption: (option: string, problem: string) => `The option “${option}” is not usable: ${problem}.`,
  badRange: (start: number, end: number) => `The range ${start} to ${end} is empty or turned round.`,
  rangeOutsideShot: (start: number, end: number, from: number, to: number) =>
    `The range ${start} to ${end} lies outside the shot, which runs from ${from} to ${to}.`,
  notSampleable: (count: number) =>
    `That would be ${count.toLocaleString('en-US')} samples: choose a larger step or a shorter range.`,

  noLayers: () => 'There is no pass and no filter yet, so there is no state of them to name.',
  unknownSet: (set: string) => `The shot has no selection set “${set}”: it may have been removed.`,
  digitMoved: (digit: number, name: string) =>
    `${digit} chooses this set now; “${name}” has no digit any more.`,
  unknownMarker: (marker: string) => `The shot has no marker “${marker}”: it may have been removed.`,
  markerWhere: () => 'A new marker needs a frame.',
  markerOutside: () => 'The marker would be outside the shot.',
  markersGone: (names: readonly string[]) =>
    `${plural(names.length, 'marker')} stood on frames that are gone: ${listed(names)}.`,
  unknownNote: (note: string) => `The shot has no note “${note}”: it may have been removed.`,
  noteWhat: () => 'A new note needs a sentence.',
  noteWhere: () => 'A new note needs a frame, or a marked range.',
  noteOutside: (start: number, end: number) =>
    `The note would be outside the shot, which runs from ${short(start)} to ${short(end)}.`,
  notesMoved: (texts: readonly string[]) =>
    `${plural(texts.length, 'note')} ${texts.length === 1 ? 'was' : 'were'} about frames that are gone and ${texts.length === 1 ? 'stands' : 'stand'} where they were: ${listed(texts.map((text) => `“${text.length > 40 ? `${text.slice(0, 39)}…` : text}”`))}.`,
  noFramesAsked: (start: number, end: number) =>
    `None of the frames that were asked for lies from ${short(start)} to ${short(end)}.`,
  nothingMoves: () => 'Nothing moves there: there is no curve to draw.',
  lettersLacking: (letters: readonly string[]) =>
    `The fonts that every reader of PDF has lack ${listed(letters)}: “?” stands there. An SVG has all letters.`,
  sheetEnding: (file: string) => `“${file}” is no name for a sheet: it ends in .svg or .pdf.`,
  sheetOptionUnused: (options: readonly string[], kinds: readonly string[]) =>
    `Nothing here goes by ${listed(options)}: ${listed(kinds)} ${kinds.length === 1 ? 'takes' : 'take'} no such option.`,
  unknownSheet: (kind: string, kinds: readonly string[]) => `There is no sheet “${kind}”: ${listed(kinds)}.`,
  noMarksToAlign: (a: number, b: number) =>
    `To lie beside each other by marks both need some: the first has ${a}, the second ${b}.`,
  nothingPaired: () => 'The two have no joint in common, by name or by build: there is nothing to compare.',
  aloneInOne: (inA: readonly string[], inB: readonly string[]) =>
    `Without a partner, and left out: ${[
      ...(inA.length > 0 ? [`${listed(inA)} of the first`] : []),
      ...(inB.length > 0 ? [`${listed(inB)} of the second`] : []),
    ].join('; ')}.`,
  warpTooSteep: (a: number, b: number, slope: number) =>
    `One lasts ${short(a)} frames and the other ${short(b)}: the times found may differ by ${short(slope)} times at most. Take a frame of each instead.`,
  nameTaken: (name: string) => `There is one called “${name}” already: choose another name.`,
  laterMuted: (names: readonly string[]) =>
    `Added after the variant was saved, so muted in it: ${listed(names)}.`,
  stateUnnamed: () =>
    'The stack as it was is not saved as a variant: Undo brings it back, Save variant keeps it.',
  tooManyLayers: (most: number) =>
    `A shot holds at most ${most} passes and filters: merge or remove some first.`,
  tooManyTimeFilters: (node: string, most: number) =>
    `At most ${most} filters can move time over one control, and “${node}” would have more: bake or remove one first.`,
  noPasses: () => 'There is no pass to merge.',
  noPassChosen: () => 'Choose the pass that goes into the one below it.',
  twoPasses: () => 'It takes two passes to merge: name at least two.',
  notNeighbours: (names: readonly string[]) =>
    `Something between them is not merged: ${listed(names)}. Move it away, or merge it too.`,
  silentLost: (names: readonly string[]) => `Muted, or not solo, so lost with its keys: ${listed(names)}.`,
  hiddenLost: (names: readonly string[]) =>
    `Hidden under a pass that replaces, and lost: the keys of ${listed(names)}.`,
  nothingToReplace: () => 'These controls have no keys, so the pass starts empty: pose on it.',
  nothingFiltered: (names: readonly string[]) =>
    `There is nothing for the filter to change on ${listed(names)}: none of the channels that it takes is keyed.`,
  wrapsUnder: (names: readonly string[]) =>
    `These leap by more than half a turn from one frame to the next, so that the filter spins them: ${listed(names)}. “Unwrap” them first.`,
  leftSliding: (names: readonly string[]) =>
    `Not on the filter, so sliding while the rest holds: ${listed(names)}. “Members of a filter” adds them at once.`,
  noMembersLeft: (name: string) => `“${name}” would be left without a control: remove it instead.`,
  soloFirst: () => 'A pass or filter is solo, so what shows is not what will: end solo first.',
  mutedFilter: (name: string) =>
    `“${name}” is muted and shows nothing that could become keys: unmute it first.`,
  keysReplaced: (count: number) =>
    `${plural(count, 'key was', 'keys were')} replaced by those that show the same.`,
  bakedOver: (name: string, names: readonly string[]) =>
    `Other passes or filters lie below, so the keys went onto a new replace pass “${name}” and not onto the base (${listed(names)}).`,

  // What was left alone
  lockedChannels: (names: readonly string[]) =>
    `${plural(names.length, 'locked channel was', 'locked channels were')} left as ${names.length === 1 ? 'it was' : 'they were'}: ${listed(names)}.`,
  lockedKeys: (count: number) =>
    `${plural(count, 'locked key was', 'locked keys were')} left as ${count === 1 ? 'it was' : 'they were'}.`,
  blockedByLocked: (count: number) =>
    `${plural(count, 'key would land', 'keys would land')} on a locked one, or on one that stays for it, and stayed where ${count === 1 ? 'it was' : 'they were'}.`,
  repeatsBothWays: (names: readonly string[]) =>
    `These loop on both sides now, so that the cycle stays whole: ${listed(names)}.`,
  tooManyKeys: (count: number, most: number) =>
    `That would make ${thousands(count)} keys on one curve; more than ${thousands(most)} are not made. Choose a shorter range, or a longer cycle.`,
  cycleChanged: (names: readonly string[]) =>
    `These loop over another number of frames now: ${listed(names)}.`,
  cycleChangedAt: (names: readonly string[]) =>
    `${plural(names.length, 'curve repeats', 'curves repeat')} there, so that the cycle itself was changed: ${listed(names)}.`,
  repeatsBaked: (names: readonly string[]) =>
    `Repeats became keys, as far as the shot goes, and hold beyond: ${listed(names)}.`,
  carriedAsBefore: (names: readonly string[]) =>
    `Mirrored in place, but still held by what held it: ${listed(names)}. A pose holds no switches; “Flip a range” swaps them.`,
  coversBeyond: (names: readonly string[]) =>
    `The pass had no keys on ${listed(names)}: outside the range its first and last new keys hold, and cover what lies below. Give the pass a range, or lay it on the base.`,
  outsideBookends: (frame: number, start: number, end: number) =>
    `Frame ${frame} lies outside the pass, which its bookends confine to ${start} to ${end}: move them or choose a frame inside.`,
  keyedThrough: (frame: number, names: readonly string[]) =>
    `A filter depends on other frames: the keys make the pose show on frame ${short(frame)}, and the frames around it move along: ${listed(names)}.`,
  blockedByLayer: (name: string, names: readonly string[]) =>
    `“${name}” depends on other frames, so a key here cannot hit this pose: ${listed(names)}. Mute it, or key below it on the curves.`,
  beyondWeight: (names: readonly string[]) =>
    `At its weight the pass would have to turn these by more than half a turn: ${listed(names)}. Raise the weight.`,
  switchesNotPasted: (names: readonly string[]) =>
    `The pose was copied in another space, or with FK for IK: ${listed(names)} stayed, and what follows may be elsewhere. Switch first to paste the same place.`,
  onlyChoices: (names: readonly string[]) =>
    `These are switches (a space, FK or IK) and no amounts: ${listed(names)}. Move them with “Move switch”.`,
  choicesLeft: (names: readonly string[]) =>
    `Switches (a space, FK or IK) were left as they are: ${listed(names)}.`,
  switchesStay: (names: readonly string[]) => `Switches are not blended and stayed: ${listed(names)}.`,
  repeatsGoOn: (names: readonly string[]) =>
    `These curves loop past the part that is retimed, as they did: ${listed(names)}. Turn the loops into keys first if they shall follow.`,
  stretchOverlaps: (start: number, end: number) =>
    `Frames ${start} to ${end} would overlap others, or land before the shot: choose the start as pivot, or a smaller factor.`,
  keptTangents: (count: number) =>
    `${plural(count, 'segment')} kept ${count === 1 ? 'its' : 'their'} tangents.`,
  headingCarried: (degrees: number) =>
    `The walk turns by ${degrees}° each cycle: position and heading carry on together, with new keys on these frames.`,
  emptyLocked: (names: readonly string[]) =>
    `Locked, and left though ${names.length === 1 ? 'it holds' : 'they hold'} no key: ${listed(names)}.`,
  membersLeft: (keys: number, nodes: readonly string[]) =>
    `${plural(keys, 'key')} went with the controls that were removed: ${listed(nodes)}.`,
  noMembersChosen: (name: string) => `None of the selected controls is on the pass “${name}”.`,
  allMembersChosen: (name: string) =>
    `All controls of the pass “${name}” are selected: nothing would be left of it. Select some of them.`,
  layerOverSpace: (layer: string, node: string) =>
    layer === ''
      ? `A layer over ${node} moves its keys in time: bake the layer or mute it first.`
      : `“${layer}” covers the keys of ${node}: bake the layer or mute it first.`,
  unlikeTargets: (nodes: readonly string[]) =>
    `Still following the same side, since the other side is not among the targets: ${listed(nodes)}.`,
  flatSpace: (node: string) => `What carries ${node} has a scale of 0, so no place in it can be worked out.`,
  circle: (path: string) => `They would depend on each other in a circle: ${path}.`,
  unknownRelation: (id: string) => `The shot has no relation “${id}”: it may have been removed.`,
  alreadyHeld: (node: string, kind: string) =>
    `The control ${node} has a relation of that sort already (${kind}): two would undo each other. Remove it or add targets to it.`,
  heldTwice: (nodes: readonly string[]) =>
    `Two relations hold the same of ${listed(nodes)}, and the later one undoes the earlier: remove one of the two.`,
  noTargets: () => 'Choose what to follow: a control, or the world.',
  onlyTargets: () => 'Only its own targets are selected: select what shall follow them.',
  noTarget: (place: number, count: number) =>
    `There is no target ${place}: the relation has ${count}, counted from 0.`,
  oneTarget: (kind: string) => `A relation of the kind “${kind}” takes one target only.`,
  noSwitch: (node: string) => `The control ${node} follows one thing only: add a target to switch to.`,
  noSwitchThere: (frame: number) => `There is no switch at frame ${frame}.`,
  switchOutside: (frame: number, start: number, end: number) =>
    `A switch lies on a whole frame of the shot, ${start} to ${end}, not on ${frame}.`,
  sameSpace: (node: string) =>
    `The control ${node} follows that already on all of these frames: nothing was changed.`,
  laidOnTarget: (nodes: readonly string[]) => `Moved onto its target: ${listed(nodes)}.`,
  differentParents: (parents: readonly string[]) =>
    `The selected controls have different parents (${listed(parents)}): a new parent needs controls that share theirs.`,
  carriedElsewhere: (node: string) =>
    `The control ${node} is carried by a relation, not by its parent: a control above it would not move it.`,
  controlNameTaken: (id: string) => `There is a control “${id}” already: choose another name.`,
  notDissolved: (node: string) =>
    `The control ${node} is more than a parent control: only those can be dissolved.`,
  usedByRelation: (node: string, other: string) =>
    `The control ${other} goes by ${node}: remove or bake that relation first.`,
  nothingBelow: (node: string) => `Nothing hung on ${node}.`,
  noLimbs: () => 'No arms or legs were found by the names of hands and feet: name the ends of the limbs.',
  allHaveGoals: () => 'All limbs that were found have goals already.',
  goalsMade: (ends: readonly string[]) =>
    `Goals and poles for ${listed(ends)}; the joints keep their own keys.`,
  noLimb: (node: string) => `The joint ${node} is not the end of a limb that reaches.`,
  nothingHolds: (nodes: readonly string[]) =>
    `No relation places ${listed(nodes)}: there is nothing to bake.`,
  noWeight: (node: string) => `What places ${node} has no weight that could be keyed.`,
  letGo: (relations: number, nodes: number) =>
    `${plural(relations, 'relation')} let go of ${plural(nodes, 'control')}.`,
  noCamera: () => 'The shot has no camera to be steady in.',
  noStepFilter: () => 'No step filter lies over the selection: lay one, or give the pattern.',
  noSuchCamera: (name: string, cameras: readonly string[]) =>
    cameras.length === 0
      ? 'The shot has no camera to be steady in.'
      : `“${name}” is no camera of the shot; there are: ${listed(cameras)}.`,
  heldInCamera: (nodes: readonly string[], camera: string, cameras: number) =>
    `Held in the picture of ${camera}${cameras > 1 ? `, one of ${cameras} cameras,` : ''} between steps: ${listed(nodes)}.`,
  lockedMotion: (channel: string) =>
    `The keys of ${channel} are locked and would have to change: unlock them first.`,
  switchJumps: (node: string, frame: number, mm: number, degrees: number) =>
    `${node} jumps by ${short(mm)} mm and ${short(degrees)}° at its switch on frame ${short(frame)}: its keys there do not match in both spaces. Switching again there matches them.`,
  movedTwice: (node: string, targets: readonly string[]) =>
    `The control ${node} is a child of ${listed(targets)} and follows it too, so it moves twice as far.`,
  holdsNoKeys: (name: string) =>
    `“${name}” holds no keys of its own: choose the base or a pass to work on, or its strength.`,
  lockedPass: (name: string) => `The pass “${name}” is locked: unlock it to change it.`,
  everythingLocked: () => 'Everything that is selected is locked: unlock it to change it.',
  tooFewKeys: (names: readonly string[]) =>
    `${plural(names.length, 'channel has', 'channels have')} too few keys to work on: ${listed(names)}.`,
  alreadyThere: (count: number) => `${plural(count, 'key was', 'keys were')} already there.`,

  unevenKeys: (names: readonly string[]) =>
    `${plural(names.length, 'channel has', 'channels have')} too few keys close together and ${names.length === 1 ? 'was' : 'were'} left: ${listed(names)}. To smooth poses, resample first.`,
  cutoffTooHigh: (cutoff: number, most: number, names: readonly string[]) =>
    `A cut-off of ${cutoff} Hz takes nothing out where keys hold no more than ${Number(most.toFixed(2))} Hz, so that these were left: ${listed(names)}. Choose a lower one.`,
  wrapsUnwrapped: (names: readonly string[]) =>
    `Jumps of 360° were unwrapped first, since a filter would smear them: ${listed(names)}.`,
  wrapsInTheWay: (names: readonly string[]) =>
    `The angles jump by 360°, which a filter would smear: ${listed(names)}. Unwrap them first.`,
  stayStraight: (count: number) =>
    `${plural(count, 'segment is', 'segments are')} stepped or straight and stayed so: set a tangent kind to make ${count === 1 ? 'it' : 'them'} flow.`,
  stepRemains: (names: readonly string[]) =>
    `A step now stands where the chosen keys end: ${listed(names)}. Choose the rest of the curve too.`,
  valuesTooLarge: (channel: string) =>
    `This would take “${channel}” past what can be computed with: choose smaller numbers.`,
  orderBakesRepeats: (names: readonly string[]) =>
    `The three angles of these loop in different ways, so the loops became keys: ${listed(names)}.`,
  notRotation: (names: readonly string[]) =>
    `${plural(names.length, 'channel is no rotation', 'channels are no rotations')} and ${names.length === 1 ? 'was' : 'were'} left: ${listed(names)}.`,
  noRotations: () => 'None of the selected controls has all three rotation channels.',
  lockedInTheWay: (names: readonly string[]) =>
    `This cannot be done in part, and something is locked: ${listed(names)}. Unlock it first.`,
  posedOnPass: (names: readonly string[]) =>
    `Angles on a pass belong to the order that they were made in: ${listed(names)}. Remove them from the pass first.`,
  whichCharacter: (ids: readonly string[]) =>
    ids.length === 0
      ? 'The shot has no character.'
      : `Select controls of one character, or name one: ${listed(ids)}.`,
  leadNeedsKeys: (names: readonly string[]) =>
    `A loop, a slope or a swing needs two keys: ${plural(names.length, 'channel has', 'channels have')} fewer and ${names.length === 1 ? 'holds' : 'hold'}: ${listed(names)}.`,
  seamOpen: (names: readonly string[]) =>
    `First and last do not agree, so the seam will show: ${listed(names)}.`,
  nothingToBake: () => 'None of the selected curves loops or runs on there: there is nothing to bake.',
  noTimeLeft: () => 'Scaling time to nothing would put all keys on one frame.',

  // Time and poses
  frameOutsideShot: (frame: number, start: number, end: number) =>
    `Frame ${frame} lies outside the shot, which runs from ${start} to ${end}.`,
  keysGone: (count: number, what: string) =>
    `${thousands(count)} ${count === 1 ? 'key' : 'keys'} ${what} will be deleted.`,
  noColumns: () =>
    'The shot has no pose columns: its keys stand on every frame, or nowhere together. Add columns by hand, or change the rule.',
  tooFewColumns: (count: number) =>
    `A pattern needs two gaps; there ${count === 1 ? 'is 1 pose column' : `are ${count} pose columns`} in the range: choose a longer one.`,
  noGapHere: (frame: number) =>
    `No gap begins at frame ${frame}: there is no pose column or key before it and one after it.`,
  gapTooShort: (gap: number) =>
    `A gap of ${Number(gap.toFixed(2))} frames is too short: it must be 1 or more.`,
  nothingToSlide: (frame: number) =>
    `Nothing slides at frame ${frame}: there is no pose column or key there with another after it.`,
  slidesTooFar: (gap: number, most: number) =>
    `A gap of ${Number(gap.toFixed(2))} frames reaches the next pose: at most ${Number(most.toFixed(2))} stay before it.`,
  noStep: () => 'A step of 0 frames moves nothing: choose another.',
  warpFolds: (frame: number) =>
    `Time would run backward at frame ${frame}. Let it rise there, or allow it for keys on every frame.`,
  warpDoubled: (frame: number) => `Two points of the warp stand on frame ${frame}: move or remove one.`,
  missingOnColumns: (names: readonly string[]) => `Keys were missing on pose columns: ${listed(names)}.`,
  willDrift: (names: readonly string[]) =>
    `Not keyed on every pose column, so that ${names.length === 1 ? 'it will' : 'they will'} drift between: ${listed(names)}.`,
  lockedKeysInTheWay: (names: readonly string[]) =>
    `Locked keys stand in the way, so that ${names.length === 1 ? 'this curve was' : 'these curves were'} left: ${listed(names)}.`,
  gapsAre: (before: readonly number[], after: readonly number[]) =>
    `Gaps ${before.slice(0, 16).join(' ')}${before.length > 16 ? ' …' : ''} become ${after.slice(0, 16).join(' ')}${after.length > 16 ? ' …' : ''}.`,
  noPairs: () =>
    'None of these controls has a partner on the other side, so there is nothing to flip. Set pairs on the Characters page.',
  notAMirror: (names: readonly string[]) =>
    `Not a mirror image of the partner, so that the flip is no true reflection: ${listed(names)}.`,
  selfPair: (node: string) => `“${node}” stands on one side: its partner must be another control.`,
  keyedAnew: (names: readonly string[]) =>
    `Mirroring mixes the axes of these, so all three are keyed now where one was: ${listed(names)}.`,
  overwrites: (count: number, start: number, end: number) =>
    `${plural(count, 'key', 'keys')} from frame ${start} to ${end} will be overwritten.`,
  noNeighbour: (which: string, frame: number) =>
    `There is no ${which} pose column from frame ${frame} on: there is nothing to blend toward.`,
  badSign: (channel: string) => `“${channel}” is no channel of this control.`,

  // What was done beside the main thing
  noFilesNamed: () => 'No file is named: give some, or a list of them with --list.',
  badReport: (problem: string) => `This is no report of a routine: ${problem}`,
  reportsDiffer: (first: string) =>
    `This report is not of the same routine over the same files in as many shards as ${first}.`,
  shardTwice: (part: number, of: number) => `There are two reports of shard ${part} of ${of}: leave one out.`,
  shardsMissing: (missing: readonly number[], of: number, files: number) =>
    `${missing.length > 0 ? `There is no report of ${missing.length === 1 ? 'shard' : 'shards'} ${listed(missing.map(String))} of ${of}: ` : 'Shards were broken off: '}${plural(files, 'file has', 'files have')} no line yet. Run them with --continue.`,
  keysMerged: (count: number) =>
    `${plural(count, 'key fell', 'keys fell')} onto a frame that already has one and ${count === 1 ? 'was' : 'were'} merged into it.`,
  keysOverwritten: (count: number) => `${plural(count, 'key was', 'keys were')} overwritten.`,
  excluded: (names: readonly string[]) => `Left out as asked: ${listed(names)}.`,
  withoutPartner: (names: readonly string[]) =>
    `${plural(names.length, 'control has', 'controls have')} no partner on the other side and stayed: ${listed(names)}.`,
  unknownInPairs: (names: readonly string[]) =>
    `${plural(names.length, 'name', 'names')} in the pairs ${names.length === 1 ? 'is' : 'are'} not there: ${listed(names)}.`,
  unknownRecorded: (names: readonly string[]) =>
    `${plural(names.length, 'control', 'controls')} that it was recorded on ${names.length === 1 ? 'is' : 'are'} not in this shot: ${listed(names)}.`,
  unmatchedNodes: (names: readonly string[]) =>
    `${plural(names.length, 'control of the action is', 'controls of the action are')} not in this shot: ${listed(names)}.`,
  tooManyJoints: (count: number, most: number) =>
    `A figure of ${count} joints is too large to be matched by structure (${most} at most): match it by name.`,
  unknownCharacter: (id: string) => `The shot has no character “${id}”.`,
  couldChangePlaces: (pairs: readonly string[]) =>
    `A guess, since swapped they fit as well: ${listed(pairs)}. Put it right under “Pairs”.`,
  measuresEnding: (path: string) => `Measures are written as .csv or .json: “${path}” is neither.`,
  pairsOfTime: () => 'Give as many source frames as frames, both rising.',
  flightBefore: (
    name: string,
    { start, end }: { readonly start: number; readonly end: number },
    mm: number,
    frame: number,
    gravity: number,
  ) =>
    `Before, from ${short(start)} to ${short(end)}, ${name} was up to ${short(mm)} mm off free flight, at ${short(frame)}, and fell as under ${short(gravity)} g.`,
  flightStrays: (mm: number, frame: number) =>
    `Between its keys it strays from the parabola by up to ${short(mm)} mm, at ${short(frame)}: more keys bring it nearer.`,
  turningChanges: (frame: number, percent: number) =>
    `In the air the way it turns about itself (its angular momentum) changes most at ${short(frame)}, by ${Math.round(percent)} % of its greatest in a frame; nothing in the air can change it.`,
  heightRounded: (asked: number, top: number, frames: number) =>
    `On whole frames it rises to ${short(top)} cm, for ${short(asked)} cm that were asked: ${plural(frames, 'frame')} in the air.`,
  keyedForFlight: (channels: readonly string[]) =>
    `There were no keys to move, so two were set on ${listed(channels)}.`,
  flightOnPasses: (pass: string, longer: number) =>
    longer === 0
      ? `“${pass}” carries it; muted, it leaps as before.`
      : `“${pass}” carries it and a retime filter gives it ${plural(Math.abs(longer), 'frame')} ${longer > 0 ? 'more' : 'less'}; both muted, it leaps as before.`,
  thrownAt: (speed: number, hand: number, degrees: number) =>
    `It is let go at ${short(speed)} m/s; the hand goes at ${short(hand)} m/s there, ${short(degrees)}° apart.`,
  catchMissed: (to: string, mm: number, frame: number) =>
    `It comes by ${to} at ${short(frame)} at a distance of ${short(mm)} mm: “that meets the catch” finds the speed that meets it.`,
  caughtBefore: (release: number, caught: number) =>
    `It cannot be caught at ${short(caught)} when it is let go at ${short(release)}.`,
  heldBefore: (caught: number, until: number) =>
    `It cannot be held until ${short(until)} when it is caught at ${short(caught)}.`,
  nothingCarries: (name: string) => `Nothing that can be moved carries all of ${name}.`,
  cannotMove: (node: string) => `${node} cannot be moved: it has no channels for its place.`,
  whenItFlies: () => 'When it flies is not known: give its take-off and landing, or choose that range.',
  whichFlight: (spans: readonly string[]) =>
    `It flies several times, ${listed(spans)}: choose a range around one of them.`,
  landsBefore: (start: number, end: number) =>
    `It cannot land at ${short(end)} when it takes off at ${short(start)}.`,
  noGravity: () => 'Without gravity no height says how long it flies: give the time instead.',
  topBelowEnds: (top: number, least: number) =>
    `It cannot rise to ${short(top)} cm only: take-off or landing lie at ${short(least)} cm.`,
  contactsAdopted: (count: number) =>
    `${plural(count, 'contact')} that a placed action brought ${count === 1 ? 'is' : 'are'} the shot’s own from now on, and ${count === 1 ? 'stays' : 'stay'} when the block is moved.`,
  contactOfPlacement: (block: string) =>
    `This contact comes with “${block}”: mute the block, or move the contact's edge to make it the shot’s own.`,
  contactsLeftOut: (count: number, nodes: readonly string[]) =>
    `${plural(count, 'contact')} of the action could not be taken over: ${listed(nodes)} has no match here, or its sole is not known. Find contacts again.`,
  contactsLaid: (count: number) => `${plural(count, 'contact')} came along.`,
  nothingHeld: () => 'No contact is held: “Hold contacts” first, so that it is known where feet stand.',
  allReach: () => 'All legs reach where their feet stand: the hips need not give way.',
  stillOutOfReach: (node: string, mm: number, frame: number) =>
    `Still out of reach of where it stands, by ${short(mm)} mm at ${short(frame)}, is ${node}: that may be a joint that cannot be moved above all legs, or a lock.`,
  noGoalHolds: (nodes: readonly string[]) =>
    `There is no goal to hold ${listed(nodes)}: “Add goals” makes goals for limbs.`,
  jointsLead: (nodes: readonly string[]) =>
    `Joints lead ${listed(nodes)} there, not the goals that hold: bring the limbs to their goals first.`,
  leftToTheirs: (nodes: readonly string[]) =>
    `${listed(nodes)} ${nodes.length === 1 ? 'belongs' : 'belong'} to no figure and ${nodes.length === 1 ? 'stays' : 'stay'} as ${nodes.length === 1 ? 'it is' : 'they are'}: the action goes onto another figure than its own.`,
  rollsThere: (point: string, mm: number, start: number, end: number, turns: boolean) =>
    `It still slides by ${short(mm)} mm, ${point} from ${short(start)} to ${short(end)}: another point of the foot stands meanwhile, and it rolls${turns ? ' or twists. Hold its heading too, or shorten one of them.' : '. Shorten one of them.'}`,
  notReached: (point: string, mm: number, start: number, end: number) =>
    `It still slides by ${short(mm)} mm, ${point} from ${short(start)} to ${short(end)}: its limb does not reach so far. Let the hips give way.`,
  steppedStay: (channels: readonly string[]) =>
    `Stepped keys stay as they are, on ${listed(channels)}: turn them into a spline first.`,
  nothingFree: () =>
    'No key is free to be refined: those at the ends of the range, locked and stepped ones stay. Widen the range or select other channels.',
  refined: (percent: number, before: number, steps: number) =>
    `After ${plural(steps, 'step')} its roughness is ${short(percent)} % of what it was, at the worst frame ${short(before)} %.`,
  notSmoother: () =>
    'It is as smooth as these keys can be, as far as it stays this close: nothing was changed.',
  roughMoments: (moments: readonly string[]) => `Roughest: ${listed(moments)}.`,
  tooMuchToRefine: (numbers: number, most: number) =>
    `That is ${thousands(numbers)} numbers times frames, ${thousands(most)} at most: choose fewer channels or a shorter range.`,
  closeNotPairs: () => 'Frames and weights of staying close must be as many, and the frames must rise.',
  noLegs: (name: string) =>
    `No legs are found on ${name}, so it is not known what stands: set contacts of other joints by hand.`,
  contactsFound: (count: number, points: readonly string[]) =>
    `${plural(count, 'span')} in which ${listed(points)} ${points.length === 1 ? 'stands' : 'stand'}.`,
  contactsKept: (count: number) =>
    `${plural(count, 'contact', 'contacts')} set by hand or held ${count === 1 ? 'was' : 'were'} kept as ${count === 1 ? 'it is' : 'they are'}.`,
  contactsSlide: (point: string, mm: number, start: number, end: number) =>
    `It slides most, by ${short(mm)} mm, on ${point} from ${short(start)} to ${short(end)}.`,
  contactDeep: (point: string, mm: number, start: number) =>
    `${capital(point)} lies up to ${short(mm)} mm below the ground from ${short(start)} on.`,
  fliesBetween: (spans: readonly string[]) => `Nothing stands, it flies: ${listed(spans)}.`,
  contactsJoined: (count: number) =>
    `It overlaps ${plural(count, 'span')} of the same point and became one with ${count === 1 ? 'it' : 'them'}.`,
  unknownContact: (id: string) => `The shot has no contact “${id}”.`,
  noContacts: () => 'There are no contacts here: find them first, or choose a range in which some lie.',
  notWithinContact: (frame: number, start: number, end: number) =>
    `It can be split between ${short(start)} and ${short(end)}, not at ${short(frame)}.`,
  sizeByFlights: (name: string, unit: number, height: number, flights: number) =>
    `By ${plural(flights, 'leap')} of ${name}’s own a unit is ${short(unit)} cm: ${short(height)} cm tall.`,
  standsTall: (name: string, stands: number, unit: number) =>
    `It stands ${short(stands)} units high, ${name}: a unit counts as ${Number(unit.toPrecision(4))} cm.`,
  upUnknown: (name: string) =>
    `No head, arms and legs are known of ${name}, or its rest and its poses point differently: say which axis is up.`,
  anotherAxisUp: (name: string, up: string) =>
    `${capital(name)} lies: ${axis(up)} is up in this file. “Stand upright” turns it.`,
  stoodUp: (name: string, up: string) =>
    `${capital(name)} stands upright: ${axis(up)} was up, and y is now. Its own axes turn along, and keys of its place exchange their axes.`,
  axesInTheWay: (name: string, names: readonly string[]) =>
    `These go by axes that do not turn with ${name}: ${listed(names)}. Stand it upright first, or bake or remove them.`,
  noHeight: (name: string) => `There is no height to ${name}: its joints lie on one level.`,
  massesOver: (sum: number) =>
    `What was set by hand is ${short(100 * sum)} % together: all of it is divided among these.`,
  feetHeld: (feet: readonly string[], before: number, after: number) =>
    `Feet that stood there slid here by up to ${short(before * 10)} mm; held, by ${short(after * 10)} mm: ${listed(feet)}.`,
  hipsGive: (node: string, most: number) =>
    `So that feet reach where they stand, ${node} gave way by up to ${short(most * 10)} mm.`,
  feetSlide: (feet: readonly string[], most: number) =>
    `Feet that stood there slide here by up to ${short(most * 10)} mm: ${listed(feet)}.`,
  solesSet: (feet: readonly string[], over: number, after: number) =>
    `Feet would stand ${offFloor(over)}; set onto it, they stand ${offFloor(after)}: ${listed(feet)}.`,
  solesOff: (feet: readonly string[], over: number) => `Feet stand ${offFloor(over)}: ${listed(feet)}.`,
  limbsStay: (ends: readonly string[]) =>
    `These follow their goals, so what the action does to their joints does not show: ${listed(ends)}.`,
  limbsSwitched: (ends: readonly string[]) => `Led by their joints over the range: ${listed(ends)}.`,
  goalsKeyed: (ends: readonly string[]) => `Goals and poles were keyed for ${listed(ends)}.`,
  bendShared: (from: readonly string[], to: readonly string[]) =>
    `The bend of ${plural(from.length, 'spine joint')} there is spread over ${plural(to.length, 'spine joint')} here.`,
  foundByStructure: (pairs: readonly string[]) => `Not found by name: ${listed(pairs)}.`,
  otherRest: (names: readonly string[]) => `Converted to another rest pose: ${listed(names)}.`,
  nothingOfAction: () =>
    'Nothing of what is selected has motion in the action: select other body parts, or match it by structure.',
  carriedAlong: (names: readonly string[]) =>
    `No match for ${listed(names)}: what hangs on it moves as it did.`,
  placesScaled: (size: number) => `Places go by the size of the figures: × ${Number(size.toPrecision(3))}.`,
  otherLength: (names: readonly string[]) => `Bones of another length: ${listed(names)}.`,
  unmatchedChannels: (names: readonly string[]) =>
    `${plural(names.length, 'channel was', 'channels were')} not found on the control: ${listed(names)}.`,
  coveredRange: (start: number, end: number) => `Covers frames ${start} to ${end}.`,
  carriedAnew: (name: string, cm: number, degrees: number) =>
    `“${name}” begins where the figure stands now, ${placeAndTurn(cm, degrees)} from where it began.`,
  carryEnds: (name: string, cm: number, degrees: number) =>
    `“${name}” was retimed as it was and no longer carries on: the figure is ${placeAndTurn(cm, degrees)} away where it begins.`,
  carryLocked: (name: string, cm: number, degrees: number) =>
    `“${name}” is locked and begins where it did: the figure stands ${placeAndTurn(cm, degrees)} away there.`,
  nothingTravels: (name: string) =>
    `Nothing of “${name}” travels over level ground: there is nothing to carry on.`,
  rangeGrown: (end: number) => `The shot now ends at frame ${end}, so that the new keys fit.`,
  endsKeyed: (count: number) =>
    `${plural(count, 'key was', 'keys were')} added at the ends, so that the range stands on its own.`,
  notReachable: (names: readonly string[]) =>
    `The pass has no weight on this frame, so the pose cannot show through it: ${listed(names)}. Raise the weight or choose another frame.`,
  bookends: (start: number, end: number) => `The pass counts from ${start} to ${end} only.`,
  coarseSamples: (names: readonly string[], beside: readonly string[]) =>
    `Some samples are coarser than the tolerance: there the fit was held to the keys themselves and runs beside the straight lines between them, by up to ${listed(beside.map((amount, i) => `${amount} on ${names[i]!}`))}.`,
  nothingThinner: (millimetres: number) =>
    `Nothing can go while every joint stays within ${millimetres} mm: allow more.`,

  // Routines
  badRoutine: (problem: string) => `This is not a usable routine: ${problem}.`,
  newerRoutine: (version: number, newest: number) =>
    `The routine is of version ${version}; this Kneader knows routines up to version ${newest}.`,
  routineUnknown: (edits: readonly string[]) =>
    `It holds ${edits.length === 1 ? 'an edit' : 'edits'} that this Kneader does not know: ${listed(edits)}.`,
  routineNeedsRange: (titles: readonly string[]) => `Mark a range, or choose keys, for ${listed(titles)}.`,
  routineNeedsSelection: (titles: readonly string[]) =>
    `What is selected counts for ${listed(titles)}; where nothing is, the body parts on which it was recorded, or all.`,
  routineNoParts: (step: number, title: string, parts: readonly string[]) =>
    `Step ${step}, ${title}, was recorded on ${listed(parts)}, which nobody has here: nothing was changed.`,
  routinePartsMissing: (parts: readonly string[]) => `Nobody has these body parts here: ${listed(parts)}.`,
  routineRefused: (step: number, title: string, sentence: string) =>
    `Step ${step}, ${title}, was refused, and nothing was changed: ${sentence}`,

  // Recording
  nothingRecorded: () => 'Nothing was recorded: no control was driven.',

  // Placements
  unknownPlacement: (id: string) => `The shot has no placement “${id}”.`,
  blockBent: () =>
    'Time was held, cut or turned inside this block since it was laid: turn it to keys, or lay the action anew, to stretch or repeat it.',
  notKept: (mm: number, degrees: number, node: string, frame: number, asked: number, turn: number) =>
    `Not kept as was asked: up to ${short(mm)} mm and ${short(degrees)}° off, at ${node} on frame ${short(frame)} (asked: ${short(asked)} mm, ${short(turn)}°).`,
  settingsMove: (mm: number, degrees: number, node: string, frame: number) =>
    `These settings change the motion: by up to ${short(mm)} mm and ${short(degrees)}°, most at ${node} on frame ${short(frame)}.`,
  heldAhead: (node: string, frame: number, mm: number, degrees: number) =>
    `Between frames ${short(frame - 1)} and ${short(frame)} ${node} holds, since it is in another space on either side: up to ${short(mm)} mm and ${short(degrees)}° off between them, on no frame.`,
  outsideStays: (count: number) =>
    `${plural(count, 'key outside the shot stays', 'keys outside the shot stay')} as ${count === 1 ? 'it is' : 'they are'}, though what carries the control is another now.`,
  weighedIn: (names: readonly string[]) =>
    `Weight, range and mode of these are baked into the new keys, and can no longer be dialled: ${listed(names)}.`,
  looksAcross: (names: readonly string[]) =>
    `These depend on other frames, so they look different close to where time changes: ${listed(names)}.`,
  staysInTime: (names: readonly string[]) =>
    `These stay as they were, since their drawings would not last whole frames in the new time: ${listed(names)}.`,
  noMirrorImage: (names: readonly string[]) =>
    `What these make has no mirror image, and stays as it is: ${listed(names)}.`,
  placementsUnflipped: (names: readonly string[]) =>
    `Placed actions are not flipped: ${listed(names)}. Place them flipped instead, or turn them to keys first.`,
  unknownAction: (id: string) => `The shot has no action “${id}”.`,
  tooShortToPlace: () =>
    'The action is a single pose: a block needs a frame and more. Blend the pose in instead.',
  blockTooShort: (length: number, least: number) =>
    `That would leave ${length === 1 ? '1 frame' : `${length} frames`}: a block takes at least ${least === 1 ? 'one frame' : `${least} frames`}.`,
  placedTwice: (name: string, frame: number) =>
    `“${name}” is the same action at frame ${frame} already: move one of the two, or take other controls.`,
  beyondFrames: (most: number) => `It would lie beyond frame ${most}, the last that there is.`,
  noLongerCross: (before: string, next: string | null) =>
    next === null
      ? `“${before}” no longer crosses into anything.`
      : `“${before}” and “${next}” cross no more: they do not overlap.`,
  nothingToCross: (name: string) => `No block before “${name}” on the same controls to cross with.`,
  doNotOverlap: (before: string, next: string) =>
    `“${before}” and “${next}” do not overlap, or one lies within the other: give the number of frames to cross over.`,
  crossed: (before: string, next: string, start: number, end: number) =>
    `“${before}” gives way to “${next}” from frame ${start} to ${end}.`,
  mutedPlacement: (name: string) => `“${name}” is muted and shows nothing: unmute it first.`,

  // Files
  fileEmpty: () => 'The file is empty.',
  fileTooLarge: (megabytes: number, most: number) =>
    `The file has ${megabytes} MB; Kneader reads files of up to ${most} MB.`,
  fileUnknownKind: (name: string) =>
    `“${name}” is of no kind that can be read here: .kneader.json, .kneader.zip, .bvh, .glb, .gltf, .vrm, .csv and .zip can.`,
  streamUnknownKind: () =>
    'What came by standard input looks like none of the kinds that can be read here: say which with --as, .bvh for instance.',
  streamWhichKind: () =>
    'What goes to standard output has no ending: say which kind with --to, .glb for instance.',
  fileNotWritable: (name: string) =>
    `“${name}” is of no kind that can be written: .kneader.json, .kneader.zip, .bvh, .glb, .gltf, .vrm and .csv can.`,
  fileNotPlain: (name: string) => `“${name}” is no plain file: a folder, a device or a pipe cannot be read.`,
  fileOverInput: (name: string) =>
    `“${name}” would be written over a file of the same command: name another one. Nothing was written.`,
  gltfFarResource: (uri: string) =>
    `The file names “${uri}”: only files in its own folder, or in folders of that, are read.`,
  fileMissing: (name: string) => `“${name}” cannot be read: it is not there, or may not be opened.`,
  notJson: (problem: string) => `This is not a JSON file, or it was cut short: ${problem}.`,
  notAShotFile: () => 'This JSON file is not a Kneader shot: its “format” is not “kneader-shot”.',
  tooDeep: (most: number) =>
    `Something in the file is nested more than ${most} levels deep, so it is not read.`,
  tooManyNodes: (count: number, most: number) =>
    `The file has ${plural(count, 'node', 'nodes')}; a shot holds up to ${most}.`,
  newerVersion: (version: number, known: number) =>
    `The file is of version ${version}; this Kneader knows versions up to ${known}. Open it with a newer Kneader.`,
  badDocument: (path: string, problem: string) => `The file is broken at ${path}: ${problem}.`,
  csvHead: (got: string) =>
    `The first line must name “frame” and then channels, node.channel; it says “${got}”.`,
  csvTwice: () => 'The first line names a channel twice.',
  csvOrder: (frame: number) => `Frame ${frame} does not come after the one before: frames must rise.`,
  csvRate: (rate: number) =>
    `A CSV has no frame rate: ${rate} frames per second were assumed; set it if it is another.`,
  csvWorld: (count: number) =>
    `${plural(count, 'column')} of places and orientations in the world ${count === 1 ? 'is' : 'are'} no channels and ${count === 1 ? 'was' : 'were'} left out.`,
  bvhExpected: (expected: string, got: string) => `Line says “${got}” where ${expected} should stand.`,
  bvhEndsEarly: (expected: string) =>
    `The file ends where ${expected} should stand: it was probably cut short.`,
  bvhBadNumber: (got: string) => `“${got}” is not a number.`,
  bvhBadChannel: (got: string) =>
    `“${got}” is not a channel: Xposition … Zposition and Xrotation … Zrotation are.`,
  bvhTwice: (channel: string) => `The joint lists the channel “${channel}” twice.`,
  bvhRowLength: (got: number, expected: number) =>
    `A row has ${got} values where the channels need ${expected}.`,
  bvhRowCount: (announced: number, found: number) =>
    `The header announces ${announced} frames, the file holds ${found}: the ${found} that are there were read.`,
  csvNoRig: (nodes: number, relations: number) =>
    `A table holds the values of channels on whole frames, not who hangs on whom: rest poses of ${plural(nodes, 'node')} and ${plural(relations, 'relation')} are not in it.`,
  exportShears: (mm: number, degrees: number, node: string, frame: number) =>
    `A control follows something of uneven size, which this kind of file cannot say: the nearest that it can is off by up to ${short(mm)} mm and ${short(degrees)}°, at ${node} on frame ${short(frame)}.`,
  exportOnFrames: (mm: number, node: string, frame: number) =>
    `This kind of file holds whole frames only: between them, run straight, it is off by up to ${short(mm)} mm, at ${node} on frame ${short(frame)}.`,
  marksStay: (markers: number, sets: number, tags: number, notes: number) =>
    `Only a shot file keeps these: ${listed([
      ...(markers > 0 ? [plural(markers, 'marker')] : []),
      ...(sets > 0 ? [plural(sets, 'selection set')] : []),
      ...(tags > 0 ? [plural(tags, 'tag')] : []),
      ...(notes > 0 ? [plural(notes, 'note')] : []),
    ])}.`,
  bvhOnFrames: (count: number) =>
    `BVH has one row for each frame: ${plural(count, 'key', 'keys')} between frames ${count === 1 ? 'is' : 'are'} written as what shows on the frames beside ${count === 1 ? 'it' : 'them'}.`,
  bvhNoFrames: () => 'The file has a skeleton and no frame of motion.',
  bvhTooDeep: () => 'The skeleton is nested more than 500 joints deep: this is no usable file.',
  gltfBroken: (problem: string) => `The glTF file cannot be read: ${problem}.`,
  gltfMissingResource: (uri: string) => `The glTF file needs “${uri}”, which is not there.`,
  gltfVersion: (version: string) => `The file is glTF ${version}; Kneader reads glTF 2.0.`,
  sourceLacks: (names: readonly string[], file: string) =>
    `${listed(names)} ${names.length === 1 ? 'is' : 'are'} not there, which “${file}” needs: it was opened without, and nothing can be written back into it. Open it together with ${names.length === 1 ? 'that file' : 'those files'}.`,
  sourceStays: (files: readonly string[], morphs: number) =>
    `How the figure looks stays in ${listed(files)}, which ${files.length === 1 ? 'does' : 'do'} not go along: shapes, skins and materials${morphs > 0 ? `, and with them the motion of ${plural(morphs, 'morph target')}` : ''}.`,
  sourceNamed: (files: readonly string[]) =>
    `The shot file names ${listed(files)} and does not hold ${files.length === 1 ? 'it' : 'them'}: where ${files.length === 1 ? 'it is' : 'they are'} not known the figure is drawn from solids. A .kneader.zip takes ${files.length === 1 ? 'it' : 'them'} along.`,
  sourceMissing: (file: string) =>
    `“${file}”, in which a character came, is not in the zip: he is drawn from solids.`,
  sourceOther: (file: string) =>
    `What the zip holds as “${file}” is not the file in which the character came: he is drawn from solids.`,
  heldFileOther: (file: string) =>
    `What the shot file holds as “${file}” is not the file in which the character came: the character is drawn from solids.`,
  vrmWithoutSource: () =>
    'A .vrm is written only for a shot whose character came in one, while that file is at hand: take .glb.',
  zipBroken: () => 'It is no zip that can be read.',
  zipTooMany: (count: number, most: number) => `The zip holds ${count} files; ${most} are the most.`,
  zipTooMuch: (megabytes: number) =>
    `The zip comes to more than ${megabytes} MB when it is unpacked: nothing of it was taken.`,
  zipMember: (file: string) => `“${file}” in the zip is damaged: its bytes are not those that were packed.`,
  zipNothing: (_: readonly string[]) =>
    'The zip holds neither a shot (shot.kneader.json) nor a character (.glb, .gltf, .vrm). Actions are opened on the page Pantry.',
  zipSeveral: (files: readonly string[]) =>
    `The zip holds several characters (${listed(files)}): take them out and open them one by one.`,
  actionNotOnFile: (action: string, why: string) => `The action “${action}” was left out. ${why}`,
  picturesMissing: (pictures: readonly string[], file: string) =>
    `${listed(pictures)} ${pictures.length === 1 ? 'is' : 'are'} not there: “${file}” is shown without ${pictures.length === 1 ? 'that picture' : 'those pictures'}. Open it together with ${pictures.length === 1 ? 'it' : 'them'}.`,
  sourceHasNot: (nodes: readonly string[], file: string) =>
    `“${file}” has no place for the motion of ${listed(nodes)}: it stays in the shot.`,
  tooManyMorphs: (count: number, most: number) =>
    `A mesh of the file has ${count} morph targets; ${most} are the most.`,
  skinWeightsOff: (count: number, mesh: string) =>
    `${plural(count, 'vertex', 'vertices')} of “${mesh}” ${count === 1 ? 'has' : 'have'} weights that do not add up to 1, are no numbers, or name joints that are not there; ${count === 1 ? 'it is' : 'they are'} kept as ${count === 1 ? 'it is' : 'they are'}.`,
  gltfNoAnimation: (wanted: string, names: readonly string[]) =>
    names.length === 0
      ? `There is no animation “${wanted}”: the file has none.`
      : `There is no animation “${wanted}” in the file: there is ${listed(names.map((name) => `“${name}”`))}.`,
  gltfNoNodes: () => 'The glTF file has no node, so there is nothing to move.',
  gltfNotKept: (what: string, count: number) =>
    `${capital(what)} of the file ${count === 1 ? 'was' : 'were'} left out: Kneader keeps nodes and their motion (${count}).`,
  gltfExtension: (names: readonly string[]) =>
    `The file needs ${listed(names)} to be read, which Kneader does not know.`,
  gltfShear: (names: readonly string[]) =>
    `These nodes are sheared, and Kneader turns and scales only; they rest a little differently: ${listed(names)}.`,
  gltfFlat: (names: readonly string[]) =>
    `These nodes rest with a scale of 0 along an axis; what is keyed on it cannot be scaled against that: ${listed(names)}.`,
  namesNumbered: (names: readonly string[]) =>
    `Nodes without a name, or with one that stands twice, were given names of their own: ${listed(names)}.`,
  rateUnsure: (taken: string, others: readonly string[]) =>
    `The file does not say its frame rate; its keys lie on whole frames at ${taken} a second, and at ${listed(others)} too. Check it, and set it if it is another.`,
  rateMissing: (taken: string) =>
    `The file does not say its frame rate, and its keys lie on whole frames of none: they were kept between the frames of ${taken} a second.`,
  gltfMorphSkipped: (count: number) =>
    `${plural(count, 'animation channel drives', 'animation channels drive')} something other than position, rotation or scale and was left out.`,
  gltfOtherAnimations: (used: string, count: number) =>
    `The file has ${count} animations; “${used}” was read.`,
  noCast: () => 'Choose a character first: a shot begins with one.',
  castTwice: (node: string) =>
    `Two of them have a control called “${node}”, and a shot has each name once: take them into shots of their own.`,
  gltfKeysChanged: (nodes: readonly string[]) =>
    `The motion of ${listed(nodes)} was changed, or its name, after Kneader wrote it: its keys are those of the file now, not those that stand beside them.`,
  gltfRefined: (count: number) =>
    `${plural(count, 'key was', 'keys were')} added between the file's own, so that rotations turn as they did.`,

  // Actions and stored records
  badAction: (problem: string) => `This is not a usable action: ${problem}.`,
  badClip: (problem: string) => `What is on the clipboard are no keys of Kneader: ${problem}.`,
  emptyClip: () => 'There is nothing to paste: the clipboard holds no key.',
  noPasteTarget: () =>
    'There is no channel to paste onto: none of the copied ones is in this shot, and nothing is selected.',
  impossibleRate: (ratio: number) =>
    `The action would become ${ratio > 1 ? ratio : 1 / ratio} times as ${ratio > 1 ? 'long' : 'short'}: its frame rate is no rate of a shot.`,
  shownOnFrames: (names: readonly string[]) =>
    `Passes lie over these, so that they were saved with a key on every frame: ${listed(names)}.`,
  emptyAction: () => 'There is nothing to save: none of the selected channels has a key.',
  badRecord: (problem: string) => `The stored record no longer reads: ${problem}.`,
} as const;
