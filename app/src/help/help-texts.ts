/** The texts of the Help page. */

export const HOW_TO: readonly { readonly task: string; readonly steps: readonly string[] }[] = [
  {
    task: 'Begin a shot',
    steps: [
      'On Shots press New shot: choose who stands in it, from the shelf or from your own shots, how many frames a second and how long.',
      'Legs hang on their goals from the start: move the hips, and the feet stay.',
    ],
  },
  {
    task: 'Find your way in a shot',
    steps: [
      'Select controls and press the plus beside the body parts: they are kept as a set, chosen by a touch or by Shift and its digit. The dots beside a chosen set rename, refill and remove it.',
      'Press J at a frame that matters: a marker stands there; its name and colour are written at once, or by a touch when the play-head is there. It is dragged, goes through every retiming, and the play-head snaps to it. Shift J goes to the next.',
      'On Shots a card takes tags; beside the search they choose which shots are listed.',
    ],
  },
  {
    task: 'Compare two, and show them',
    steps: [
      'Press Shift C, or Compare on the strip: choose what stands on each side, and look by wipe, over, blink or beside. Touch what parts most, or any place of the heat table: the play-head goes there.',
      'Where one was retimed choose Found in the poses under the times: the tab Time shows which frame lies beside which.',
      'Press Film there, or Export and Film or pictures on the bench: range, view, size, what is written on it. The bench can be used meanwhile.',
    ],
  },
  {
    task: 'Work beside a film, with notes',
    steps: [
      'Press Film over the stage and choose a film or numbered pictures: give it an offset and a rate, mark its poses, and Make pose columns of the marks, or Bring poses here: Warp opens with a point for each.',
      'Press Shift N and write what is to be said about this frame, or the marked range; Enter keeps it. Notes stand along the frames, go through every retiming, and on contact sheets.',
      'Export, Sheet to print: a contact sheet, a timing sheet or curves as PDF, SVG or PNG.',
    ],
  },
  {
    task: 'Get hold of captured curves',
    steps: [
      'Select controls on the figure, open Unwrap angles, Apply.',
      'Open Thin and drag the tolerance, by kind of channel or in millimetres; curves, figure and numbers follow.',
      'Apply. Choose keys and give them tangents with the six letters of the pad: Q W E above A S D.',
    ],
  },
  {
    task: 'Take blocking from stepped to spline',
    steps: [
      'Open Complete the columns: what was not keyed is listed.',
      'Open Stepped to spline, Apply. Nothing drifts, since every control has a key on every pose.',
    ],
  },
  {
    task: 'Retime from pose to pose',
    steps: [
      'In the poses lane drag a pose, or type the number of a gap, or press + and − while it plays, for the pose that you last stood on: everything later ripples. With Slide, or Ctrl while you drag, the pose moves alone, between its neighbours.',
      'Select several poses with Shift, open Pattern of gaps, and choose a rhythm.',
      'Switch on Arcs for a point to see its spacing, before and after.',
    ],
  },
  {
    task: 'Make a walk out of half a cycle',
    steps: [
      'Open Flip a range, switch on Place it after; leave hands and props out when they hold something.',
      'Open Loop: travel is carried on, and the seam is closed.',
    ],
  },
  {
    task: 'Cut a loop out of captured motion',
    steps: [
      'Open Loop and press Find loop points: where the figure comes back to a pose, with what is left at the seam in mm and degrees.',
      'Touch one: it is marked as the range, and both poses are seen beside each other. Apply.',
    ],
  },
  {
    task: 'Lay a change over dense keys',
    steps: [
      'Open Add offset pass, Apply.',
      'Turn a control on the stage: the pass takes what is missing.',
      'Dial its weight in its lane: type it, drag it, or key it and pull its keys on the track.',
    ],
  },
  {
    task: 'Show somebody three versions',
    steps: [
      'Mute, dial and reorder the rows of the stack; “+ Variant” names it as it stands.',
      'V shows the next, the numbers each one; Side by side sets up to four on one play-head.',
      'Open Bake out variant for a shot of its own in plain keys.',
    ],
  },
  {
    task: 'Put a figure on twos, or a tail on a spring',
    steps: [
      'Select the controls, open Add filter, choose Step or Spring: the keys stay.',
      'Touch its name in the stack and turn it while it plays; hold its eye to see without.',
      'What slides while the rest holds is listed there, and added at a touch.',
    ],
  },
  {
    task: 'Find out why a flip looks wrong',
    steps: [
      'Open Characters and choose the shot.',
      'Sort by the flip test; set the partner, or the signs, by hand.',
    ],
  },
  {
    task: 'Hand a prop over',
    steps: [
      'Select the prop: what it follows stands in the lane Space. Without one, “Add relation” with all that it shall ever follow.',
      'Go to the frame, choose the other in the lane’s head: it switches there and does not jump.',
      'Drag the edge of a span to switch sooner or later; the motion stays.',
      '“Bake to keys” writes what shows and lets go.',
    ],
  },
  {
    task: 'Pose captured motion by its hands and feet',
    steps: [
      '“Add goals”: arms and legs are found, goals and poles made from the motion.',
      'Pose by the goals, on an offset pass or on the base.',
      '“Back to joints” takes a goal away again.',
    ],
  },
  {
    task: 'Make a leap farther and higher',
    steps: [
      '“Find contacts”: what stands, and when it flies, is found; drag the ends of a span in the lane.',
      '“Flight”: drag the beads of landing, take-off and top on the stage, or type them; its time in the air follows its height.',
      'Choose whether the keys that are there move, or passes carry it that can be muted.',
    ],
  },
  {
    task: 'Throw a prop from one hand to the other',
    steps: [
      '“Throw and catch”: say what is thrown, by which hand, and on which frames it is let go and caught; the other hand is taken by itself.',
      'The flight is drawn on the stage; the report says how fast it is let go, and how fast the hand is there.',
      'When a hand is keyed anew, the same again aims it anew.',
    ],
  },
  {
    task: 'Make a motion smoother with the keys that it has',
    steps: [
      '“Roughness” above the lanes shows where it jerks, and which joint does it; a touch goes there.',
      'Select what may change, mark a range, open “Refine”: its keys stay as many and when they are.',
      'Turn up “Staying close” to keep more of what was there, for some controls more than for others; bend its line in the lane to hold some frames more than others. All of it can be turned while it runs.',
      'Pause it, go a step back, touch the plot to go back to any step, go on, or apply what stands.',
    ],
  },
  {
    task: 'Keep feet from sliding',
    steps: [
      '“Find contacts”, then “Hold contacts”: goals are held while the contacts last, and the keys stay.',
      'Where a foot still twists on the ground, hold its heading too.',
      'Where a leg does not reach, “Give at the hips” lays the smallest shift on a pass.',
      '“Bake to keys” writes what shows.',
    ],
  },
  {
    task: 'Lay a saved action over a shot',
    steps: [
      'Open Apply action, choose “as a block”, and drag the action onto the lanes: the keys below stay.',
      'Drag the block to move it, its ends to cut it, either end with Shift to stretch it (by keys: Control, Shift and arrows); the marks above are its ramps.',
      'Touch it for numbers: part, times, weight, adds, and crossing it with the one before. “Turn to keys” when it is right.',
    ],
  },
  {
    task: 'Lay an action on another character',
    steps: [
      'Open Apply action; choose the character under Onto, and match by name, then by structure.',
      '“What fits …” shows which joint stands for which; put it right by hand, and it is remembered for the two.',
      '“More” keeps it as an action of that figure.',
    ],
  },
  {
    task: 'Perform it with the pointer, or from a feed',
    steps: [
      'Choose channels, or one control, and mark a range; open Record and choose where it comes from.',
      'Start: it is counted in, and the take lies on a pass of its own. Over that pass, only what is driven changes.',
      'Thin it, then Save as action.',
    ],
  },
  {
    task: 'Do the same to many shots',
    steps: [
      'Do it once. Under History choose “Save as routine …”, with the steps that shall be done again.',
      'Run it from Actions on what is selected, or on the page of routines on many shots, on the same body parts as it was done on; “kneader routine” does it over files.',
      'Change on its card opens it step by step: carried to another place, set up, added, taken out. New routine begins an empty one, and six examples are there to be taken.',
    ],
  },
];

export const HANDS: readonly (readonly [string, string])[] = [
  ['Wheel', 'zooms in time at the pointer; with Shift in value'],
  ['Middle button, or Alt', 'moves the view'],
  ['Drag in the curves', 'draws a box around keys; with Shift added to those chosen'],
  ['Drag a key', 'moves all chosen keys; Shift along one direction only'],
  ['Ctrl drag', 'moves the chosen keys from anywhere'],
  ['Drag a handle', 'turns a tangent; Shift keeps it level, Alt gives it a length of its own'],
  ['Drag an edge of the box', 'scales; Alt about the middle; a corner with Shift tapers'],
  ['Drag on the ruler', 'scrubs; with Shift marks a range; at its foot the ends of the shot are dragged'],
  ['Rest on crowded spots, or touch them', 'a close-up opens, in which each can be hit; with Shift several'],
  [
    'Drag the grip of a lane, or of a pass',
    'moves it; its arrow folds it, its lower edge makes it higher or lower',
  ],
  [
    'Drag a key of a weight',
    'changes the weight there, or when; a double-click makes one; a click shows it among the curves, to be edited like any other',
  ],
  ['Drag the edge of a space', 'moves the switch; the control stays where it is'],
  ['Drag the edge of a contact', 'changes when it stands; touched, it is cut at the play-head or taken away'],
  ['Drag a bead of a flight', 'moves its take-off, its landing or its top'],
  [
    'Drag a block',
    'moves a placed action; its ends cut it, with Shift stretch it; by keyboard the arrows move it, with Shift its end, and with Control and Shift they stretch it',
  ],
  [
    'Drag a pose',
    'changes the gap before it; everything later ripples, or with Ctrl it slides between its neighbours; it comes to markers that are near',
  ],
  ['Drag a value', 'changes it; Alt fine, Shift coarse'],
  ['Drag a bead of an arc', 'poses the figure on that frame'],
  [
    'Ctrl C, X, V',
    'keys when some are chosen or a range is marked, else the pose; Shift pastes it flipped; where layers make something else of the keys, what shows can be copied instead',
  ],
];

export const WORDS: readonly (readonly [string, string])[] = [
  ['shot', 'one document: characters, props, frame range, curves, passes'],
  ['control', 'what an animator keys; a goal drives the end of a limb'],
  ['channel', 'one animated number, such as hips.ty'],
  ['steady', 'a tangent that never overshoots its neighbours'],
  ['lead-in, lead-out', 'what a curve does ahead of its first key and past its last'],
  ['pose column', 'a frame at which the pose is set: most controls carry a key there'],
  ['gap', 'the frames from a key or pose column to the next'],
  ['ripple', 'later keys move by as much as an earlier gap changes'],
  ['breakdown', 'a pose between two poses'],
  ['moving hold', 'a pose that stays and drifts slightly'],
  ['arc', 'the path of a point in space over time'],
  ['warp', 'a curve of time against time'],
  ['seam', 'where a repeat meets the one before'],
  ['flip', 'left and right exchange; mirror copies one side to the other'],
  ['pass', 'a layer over the base curves, with a weight that can be keyed'],
  ['bookends', 'the two ends of the range to which a layer is confined; ramps let it in and out'],
  [
    'live filter',
    'a change on top of the keys that is never written into them: spring, follow-through, shift, stretch, retime, step, wobble, smooth',
  ],
  ['relation', 'what places a control by others: it follows them, stays at, turns with or looks at them'],
  ['space, switch', 'what carries a control now; going over to another on a frame, without a jump'],
  ['match', 'a control is carried by something else over a range, and moves as it did'],
  ['goal, pole', 'what the end of a limb reaches for; what its middle joint bends toward'],
  ['roughness', 'how much what weighs jerks, along time; Refine brings it down'],
  ['contact', 'a span in which the heel or ball of a foot, or a hand, does not move'],
  ['flight', 'the time in the air between take-off and landing; its path is a parabola'],
  ['centre of mass', 'the body’s weight in one point; drawn with “Weight” on the stage'],
  ['variant', 'a named state of the stack, to show somebody a choice'],
  ['pantry', 'where saved actions live, in folders, with what they were before'],
  [
    'placement, block',
    'an action that lies over the motion and can be moved, cut, stretched, repeated, crossed',
  ],
  ['cross', 'one placement gives way to the next: together they are one'],
  ['take', 'what was recorded, on a pass of its own'],
  ['routine', 'a run of edits, saved to be done again elsewhere'],
];
