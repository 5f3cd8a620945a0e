/** Skinned characters as `.glb`, seeded, made by glTF-Transform: odd on purpose wherever glTF allows it. */
import { Document, WebIO } from '@gltf-transform/core';
import { seededRandom } from '../base/random.ts';
import { withBinds } from '../demo/with-binds.ts';

export interface SkinnedMake {
  readonly joints: number;
  /** Sets of four weights for each vertex. */
  readonly sets: number;
  readonly targets: readonly string[];
  readonly animations: number;
  readonly isNamed: boolean;
}

const USUAL: SkinnedMake = {
  joints: 9,
  sets: 2,
  targets: ['smile', 'blink_l', 'blink_r'],
  animations: 2,
  isNamed: true,
};

/** A chain of joints with uneven and negative scales, two skins that share joints, a joint that is no node of the scene, extras, a camera and several animations. */
export async function skinnedFile(seed: number, make: Partial<SkinnedMake> = {}): Promise<Uint8Array> {
  const { joints: count, sets, targets, animations, isNamed } = { ...USUAL, ...make };
  const random = seededRandom(seed);
  const some = (size: number) => (random.next() - 0.5) * 2 * size;
  const turn = (): [number, number, number, number] => {
    const q = [random.gaussian(), random.gaussian(), random.gaussian(), 3 + random.next()];
    const length = Math.hypot(...q);
    return q.map((part) => part / length) as [number, number, number, number];
  };
  const document = new Document();
  const buffer = document.createBuffer();
  const scene = document.createScene('Room').setExtras({ of: 'the house', seed });
  document.getRoot().setDefaultScene(scene);
  const named = (name: string) => (isNamed ? name : '');
  const joints = Array.from({ length: count }, (_, j) =>
    document
      .createNode(named(`bone ${j}`))
      .setTranslation([some(0.1), j === 0 ? 0.5 : 0.3, some(0.1)])
      .setRotation(turn())
      .setScale(j === 1 ? [1.1, 0.8, 1.2] : j === 2 ? [-1, 1, 1] : [1, 1, 1])
      .setExtras({ joint: j }),
  );
  joints.forEach((joint, j) => (j === 0 ? scene : joints[j - 1]!).addChild(joint));
  // Led by nothing of the scene (glTF 2.0, 3.7.3, allows a joint to stand apart as long as all of a skin have one root; this one is of the second skin alone).
  const vertices = 60;
  const positions = Float32Array.from({ length: vertices * 3 }, (_, i) =>
    i % 3 === 1 ? random.next() * 1.5 : some(0.2),
  );
  const jointIds = Array.from({ length: sets }, () => new Uint8Array(vertices * 4));
  const weights = Array.from({ length: sets }, () => new Float32Array(vertices * 4));
  for (let v = 0; v < vertices; v += 1) {
    // Each joint once, and parts of 256 that add up to the whole, which floats hold exactly.
    const order = Array.from({ length: count }, (_, j) => j).sort(() => random.next() - 0.5);
    const led = Math.min(sets * 4, count);
    let left = 256;
    for (let k = 0; k < led; k += 1) {
      const part = k === led - 1 ? left : Math.floor(left * random.next() ** 2);
      left -= part;
      // A joint of no weight is joint 0 (glTF 2.0, 3.7.3.3).
      jointIds[k >> 2]![v * 4 + (k & 3)] = part > 0 ? order[k]! : 0;
      weights[k >> 2]![v * 4 + (k & 3)] = part / 256;
    }
  }
  const accessor = (
    type: 'SCALAR' | 'VEC3' | 'VEC4' | 'MAT4',
    array: Float32Array | Uint8Array | Uint16Array,
  ) => document.createAccessor().setType(type).setArray(array).setBuffer(buffer);
  const material = document
    .createMaterial('wool')
    .setBaseColorFactor([0.7, 0.4, 0.3, 1])
    .setExtras({ soft: true });
  const mesh = (name: string) => {
    const primitive = document
      .createPrimitive()
      .setAttribute('POSITION', accessor('VEC3', positions))
      .setIndices(
        accessor(
          'SCALAR',
          Uint16Array.from({ length: vertices }, (_, i) => i),
        ),
      )
      .setMaterial(material);
    jointIds.forEach((ids, k) => {
      primitive.setAttribute(`JOINTS_${k}`, accessor('VEC4', ids));
      primitive.setAttribute(`WEIGHTS_${k}`, accessor('VEC4', weights[k]!));
    });
    targets.forEach((target) =>
      primitive.addTarget(
        document.createPrimitiveTarget(target).setAttribute(
          'POSITION',
          accessor(
            'VEC3',
            Float32Array.from({ length: vertices * 3 }, () => some(0.03)),
          ),
        ),
      ),
    );
    const made = document.createMesh(named(name)).addPrimitive(primitive);
    if (targets.length > 0) made.setWeights(targets.map((_, i) => (i === 0 ? 0.25 : 0)));
    return made;
  };
  const bind = Float32Array.from({ length: count * 16 }, (_, i) =>
    i % 16 === 13 ? -0.3 * Math.floor(i / 16) : (i % 16) % 5 === 0 ? 1 : 0,
  );
  const skin = document.createSkin(named('skin'));
  joints.forEach((joint) => skin.addJoint(joint));
  const second = document.createSkin(named('half a skin'));

  joints.forEach((joint) => second.addJoint(joint));
  const body = document.createNode(named('body')).setMesh(mesh('body')).setSkin(skin);
  const coat = document.createNode(named('coat')).setMesh(mesh('coat')).setSkin(second);
  scene.addChild(body).addChild(coat);
  scene.addChild(
    document
      .createNode(named('eye of the room'))
      .setTranslation([0, 1, 4])
      .setCamera(document.createCamera('wide').setType('perspective').setYFov(0.7).setZNear(0.1)),
  );
  for (let a = 0; a < animations; a += 1) {
    const animation = document.createAnimation(named(`dance ${a}`)).setExtras({ bpm: 90 + a });
    const keys = 4 + a;
    const times = accessor(
      'SCALAR',
      Float32Array.from({ length: keys }, (_, k) => (k * 5) / 24),
    );
    const add = (
      node: typeof body,
      path: 'rotation' | 'translation' | 'weights',
      array: Float32Array,
      mode: 'LINEAR' | 'STEP' | 'CUBICSPLINE',
    ) => {
      const sampler = document
        .createAnimationSampler()
        .setInput(times)
        .setOutput(accessor(path === 'rotation' ? 'VEC4' : path === 'translation' ? 'VEC3' : 'SCALAR', array))
        .setInterpolation(mode);
      animation
        .addSampler(sampler)
        .addChannel(
          document.createAnimationChannel().setTargetNode(node).setTargetPath(path).setSampler(sampler),
        );
    };
    joints.forEach((joint) => {
      add(joint, 'rotation', Float32Array.from(Array.from({ length: keys }, turn).flat()), 'LINEAR');
    });
    add(
      joints[0]!,
      'translation',
      Float32Array.from({ length: keys * 3 }, () => some(0.4)),
      'LINEAR',
    );
    const mode = (['LINEAR', 'STEP', 'CUBICSPLINE'] as const)[a % 3]!;
    const per = mode === 'CUBICSPLINE' ? 3 : 1;
    if (targets.length > 0)
      add(
        body,
        'weights',
        Float32Array.from({ length: keys * targets.length * per }, () => random.next()),
        mode,
      );
  }
  return withBinds(await new WebIO().writeBinary(document), [bind, bind]);
}
