/** Every edit, in the order of the work. The panel, the command line's help and the contract tests read this list. */
import type { Edit } from './edit.ts';
import { thin } from './clean/thin.ts';
import { smooth } from './clean/smooth.ts';
import { unwrap } from './clean/unwrap.ts';
import { rotationOrder } from './clean/rotation-order.ts';
import { dropRedundant } from './clean/drop-redundant.ts';
import { resample } from './clean/resample.ts';
import { snap } from './clean/snap.ts';
import { rescale } from './clean/rescale.ts';
import { standUp } from './clean/stand-up.ts';
import { setTangents } from './tangents/set-tangents.ts';
import { retangentKeys } from './tangents/retangent-keys.ts';
import { addKeys } from './keys/add-keys.ts';
import { moveKeys } from './keys/move-keys.ts';
import { pasteKeys } from './keys/paste-keys.ts';
import { setValue } from './keys/set-value.ts';
import { transformKeys } from './keys/transform-keys.ts';
import { setLead } from './keys/set-lead.ts';
import { bakeLead } from './keys/bake-lead.ts';
import { deleteKeys } from './keys/delete-keys.ts';
import { deleteKeepingShape } from './keys/delete-keeping-shape.ts';
import { lockKeys } from './keys/lock-keys.ts';
import { lockChannels } from './keys/lock-channels.ts';
import { setColumns } from './timing/set-columns.ts';
import { completeColumns } from './timing/complete-columns.ts';
import { toSpline, toStepped } from './timing/to-spline.ts';
import { renameShot } from './timing/rename-shot.ts';
import { setShot } from './timing/set-shot.ts';
import { setGap } from './timing/set-gap.ts';
import { pattern } from './timing/pattern.ts';
import { addHold, movingHold } from './timing/add-hold.ts';
import { removeTime } from './timing/remove-time.ts';
import { offset } from './timing/offset.ts';
import { stretch } from './timing/stretch.ts';
import { warp } from './timing/warp.ts';
import { reverse } from './timing/reverse.ts';
import { loop } from './timing/loop.ts';
import { flipPose, mirrorPose } from './poses/flip-pose.ts';
import { flipRange } from './poses/flip-range.ts';
import { blendPose, restPose } from './poses/blend-pose.ts';
import { setFacing, setFlipSigns, setPair } from './poses/set-pair.ts';
import { pastePose } from './poses/paste-pose.ts';
import { addOffsetPass } from './passes/add-offset-pass.ts';
import { setWeight } from './passes/set-weight.ts';
import { poseOnPass } from './passes/pose-on-pass.ts';
import { setPass } from './passes/set-pass.ts';
import { clearPass } from './passes/clear-pass.ts';
import { movePass } from './passes/move-pass.ts';
import { removeEmpty } from './passes/remove-empty.ts';
import { removePass } from './passes/remove-pass.ts';
import { setMembers } from './passes/set-members.ts';
import { splitOut } from './passes/split-out.ts';
import { addReplacePass } from './passes/add-replace-pass.ts';
import { bakeOut } from './passes/bake-out.ts';
import { mergePasses } from './passes/merge-passes.ts';
import { bakeOutVariant } from './variants/bake-out-variant.ts';
import { removeVariant } from './variants/remove-variant.ts';
import { saveVariant } from './variants/save-variant.ts';
import { setVariant } from './variants/set-variant.ts';
import { showVariant } from './variants/show-variant.ts';
import { addFilter } from './filters/add-filter.ts';
import { bakeFilter } from './filters/bake-filter.ts';
import { filterMembers } from './filters/filter-members.ts';
import { moveFilter } from './filters/move-filter.ts';
import { removeFilter } from './filters/remove-filter.ts';
import { setFilter } from './filters/set-filter.ts';
import { setStrength } from './filters/set-strength.ts';
import { addRelation } from './spaces/add-relation.ts';
import { setRelation } from './spaces/set-relation.ts';
import { switchSpace } from './spaces/switch-space.ts';
import { moveSwitch } from './spaces/move-switch.ts';
import { matchSpace } from './spaces/match-space.ts';
import { removeRelation } from './spaces/remove-relation.ts';
import { addParent, dissolve } from './spaces/add-parent.ts';
import { addGoals } from './spaces/add-goals.ts';
import { toJoints } from './spaces/to-joints.ts';
import { matchLimb } from './spaces/match-limb.ts';
import { bakeNodes } from './spaces/bake-nodes.ts';
import { steadyInCamera } from './spaces/steady-in-camera.ts';
import { findContactsOf } from './contacts/find-contacts.ts';
import { giveAtHips } from './contacts/give-at-hips.ts';
import { holdContacts } from './contacts/hold-contacts.ts';
import { removeContacts } from './contacts/remove-contacts.ts';
import { setContact } from './contacts/set-contact.ts';
import { aim } from './motion/aim.ts';
import { flight } from './motion/flight.ts';
import { refine } from './motion/refine.ts';
import { setHeight } from './motion/set-height.ts';
import { setMass } from './motion/set-mass.ts';
import { saveAction } from './actions/save-action.ts';
import { applyAction } from './actions/apply-action.ts';
import { crossPlacements } from './placements/cross-placements.ts';
import { movePlacement } from './placements/move-placement.ts';
import { placeAction } from './placements/place-action.ts';
import { placementToKeys } from './placements/placement-to-keys.ts';
import { mapAction } from './actions/map-onto.ts';
import { renewAction } from './actions/renew-action.ts';
import { savePose } from './actions/save-pose.ts';
import { removeMarkers } from './marks/remove-markers.ts';
import { removeNotes } from './marks/remove-notes.ts';
import { setNote } from './marks/set-note.ts';
import { removeSet } from './marks/remove-set.ts';
import { saveSet } from './marks/save-set.ts';
import { setMarker } from './marks/set-marker.ts';
import { tagShot } from './marks/tag-shot.ts';
import { recordTake } from './record/record-take.ts';
import { setPlacement } from './placements/set-placement.ts';
import { blendActionPose } from './actions/blend-action-pose.ts';

export const EDITS: readonly Edit[] = [
  thin,
  smooth,
  unwrap,
  rotationOrder,
  dropRedundant,
  resample,
  snap,
  rescale,
  standUp,
  setTangents,
  retangentKeys,
  addKeys,
  moveKeys,
  setValue,
  pasteKeys,
  transformKeys,
  deleteKeys,
  deleteKeepingShape,
  setLead,
  bakeLead,
  lockKeys,
  lockChannels,
  completeColumns,
  toSpline,
  toStepped,
  setGap,
  pattern,
  addHold,
  movingHold,
  removeTime,
  offset,
  stretch,
  warp,
  reverse,
  loop,
  setColumns,
  setShot,
  renameShot,
  pastePose,
  flipPose,
  mirrorPose,
  flipRange,
  blendPose,
  restPose,
  setPair,
  setFlipSigns,
  setFacing,
  addOffsetPass,
  addReplacePass,
  setWeight,
  poseOnPass,
  setPass,
  setMembers,
  splitOut,
  movePass,
  clearPass,
  removePass,
  removeEmpty,
  mergePasses,
  bakeOut,
  saveVariant,
  showVariant,
  setVariant,
  removeVariant,
  bakeOutVariant,
  addFilter,
  setFilter,
  setStrength,
  filterMembers,
  moveFilter,
  bakeFilter,
  removeFilter,
  addRelation,
  setRelation,
  switchSpace,
  moveSwitch,
  matchSpace,
  removeRelation,
  addParent,
  dissolve,
  addGoals,
  toJoints,
  matchLimb,
  bakeNodes,
  steadyInCamera,
  setHeight,
  setMass,
  findContactsOf,
  setContact,
  removeContacts,
  holdContacts,
  giveAtHips,
  flight,
  aim,
  refine,
  saveAction,
  savePose,
  applyAction,
  blendActionPose,
  placeAction,
  movePlacement,
  setPlacement,
  crossPlacements,
  placementToKeys,
  renewAction,
  mapAction,
  recordTake,
  saveSet,
  removeSet,
  setMarker,
  removeMarkers,
  tagShot,
  setNote,
  removeNotes,
];
