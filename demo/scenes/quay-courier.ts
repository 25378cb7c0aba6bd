/**
 * The quay, seen by a locked camera, and who passes over it: the courier on a cargo trike from left to right while a cloud
 * passes over the sun; the same courier in a second take, in from the right, where he stops; a porter close to the camera.
 */
import * as THREE from 'three';
import { blocks, mottled, planks, surfaceMaterial, water } from '../textures.ts';
import { at, bar, layBar, placed, shaded, sun } from './build.ts';
import type { Scene } from './scene.ts';

const WHEEL = 0.34;

function wheel(tyre: THREE.Material, metal: THREE.Material): THREE.Group {
  const group = new THREE.Group();
  group.add(new THREE.Mesh(new THREE.TorusGeometry(WHEEL - 0.032, 0.028, 10, 48), tyre));
  group.add(new THREE.Mesh(new THREE.TorusGeometry(WHEEL - 0.058, 0.012, 8, 40), metal));
  for (let i = 0; i < 14; i++) {
    const angle = (i / 14) * Math.PI * 2;
    group.add(bar(at(0, 0, 0), at(Math.cos(angle) * (WHEEL - 0.05), Math.sin(angle) * (WHEEL - 0.05), 0), 0.0035, metal));
  }
  const hub = new THREE.Mesh(new THREE.CylinderGeometry(0.03, 0.03, 0.09, 12), metal);
  hub.rotation.x = Math.PI / 2;
  group.add(hub);
  return shaded(group);
}

/** Knee of a leg of two bones between hip and foot, bent forwards. */
function knee(hip: THREE.Vector3, foot: THREE.Vector3, thigh: number, shin: number): THREE.Vector3 {
  const d = Math.min(hip.distanceTo(foot), thigh + shin - 1e-4);
  const along = (thigh * thigh - shin * shin + d * d) / (2 * d);
  const out = Math.sqrt(Math.max(0, thigh * thigh - along * along));
  const axis = foot.clone().sub(hip).normalize();
  const forwards = new THREE.Vector3(-axis.y, axis.x, 0);
  return hip.clone().addScaledVector(axis, along).addScaledVector(forwards, out);
}

function courier() {
  const group = new THREE.Group();
  const tyre = surfaceMaterial(mottled([0.06, 0.06, 0.065], [0.16, 0.14, 0.12], 0.5, 12, 3), [8, 1]);
  const metal = new THREE.MeshStandardMaterial({ color: 0x9a9c9e, metalness: 0.85, roughness: 0.35 });
  const frame = surfaceMaterial(mottled([0.1, 0.24, 0.3], [0.3, 0.16, 0.08], 0.36, 14, 4), [2, 2]);
  frame.metalness = 0.3;
  const crate = surfaceMaterial(planks(6, [0.62, 0.44, 0.24], 8), [1, 1], 2);
  const trim = surfaceMaterial(mottled([0.75, 0.62, 0.2], [0.35, 0.25, 0.1], 0.4, 18, 6), [2, 1]);
  const coat = surfaceMaterial(mottled([0.62, 0.43, 0.1], [0.45, 0.29, 0.07], 0.5, 10, 12), [2, 2], 2);
  const trousers = surfaceMaterial(mottled([0.19, 0.2, 0.24], [0.1, 0.1, 0.12], 0.5, 12, 14), [2, 2], 2);
  const skin = surfaceMaterial(mottled([0.72, 0.5, 0.38], [0.66, 0.4, 0.3], 0.45, 9, 15), [1, 1]);
  const leather = surfaceMaterial(mottled([0.3, 0.17, 0.09], [0.18, 0.1, 0.05], 0.5, 12, 16), [1, 1], 2);
  const cap = surfaceMaterial(mottled([0.13, 0.19, 0.3], [0.08, 0.11, 0.18], 0.5, 14, 17), [2, 2]);

  const wheels = [wheel(tyre, metal), wheel(tyre, metal), wheel(tyre, metal)];
  wheels[0].position.set(-0.78, WHEEL, 0);
  wheels[1].position.set(0.72, WHEEL, 0.42);
  wheels[2].position.set(0.72, WHEEL, -0.42);
  group.add(...wheels);
  const crank = at(-0.2, 0.33, 0);
  const seat = at(-0.48, 0.88, 0);
  group.add(bar(at(-0.78, WHEEL, 0), crank, 0.02, frame), bar(crank, seat, 0.022, frame), bar(at(-0.78, WHEEL, 0), seat, 0.016, frame));
  group.add(bar(crank, at(0.25, 0.42, 0), 0.026, frame), bar(at(-0.42, 0.74, 0), at(0.22, 0.62, 0), 0.024, frame));
  group.add(bar(at(0.72, WHEEL, -0.46), at(0.72, WHEEL, 0.46), 0.02, metal));
  group.add(bar(at(0.18, 0.5, 0), at(0.12, 1.04, 0), 0.018, frame), bar(at(0.12, 1.04, -0.27), at(0.12, 1.04, 0.27), 0.016, metal));
  group.add(placed(new THREE.BoxGeometry(0.27, 0.05, 0.17), leather, -0.49, 0.91, 0));
  const box = placed(new THREE.BoxGeometry(0.92, 0.46, 0.7), crate, 0.72, 0.74, 0);
  group.add(box);
  for (const y of [0.53, 0.97]) group.add(placed(new THREE.BoxGeometry(0.96, 0.045, 0.74), trim, 0.72, y, 0));
  for (const x of [0.26, 1.18]) group.add(placed(new THREE.BoxGeometry(0.045, 0.46, 0.74), trim, x, 0.75, 0));
  const parcel = surfaceMaterial(mottled([0.66, 0.52, 0.35], [0.5, 0.38, 0.24], 0.4, 8, 20), [1, 1]);
  group.add(placed(new THREE.BoxGeometry(0.3, 0.2, 0.28), parcel, 0.52, 1.08, 0.1));
  const tilted = placed(new THREE.BoxGeometry(0.34, 0.15, 0.3), parcel, 0.9, 1.06, -0.06);
  tilted.rotation.y = 0.5;
  group.add(tilted);
  const roll = placed(new THREE.CylinderGeometry(0.06, 0.06, 0.55, 16), trim, 0.9, 1.17, 0.06);
  roll.rotation.set(Math.PI / 2, 0, 0.6);
  group.add(roll);

  const body = new THREE.Group();
  const torso = placed(new THREE.CapsuleGeometry(0.165, 0.36, 6, 18), coat, -0.38, 1.21, 0);
  torso.rotation.z = -0.36;
  torso.scale.z = 1.2;
  body.add(torso);
  const skirt = placed(new THREE.CylinderGeometry(0.15, 0.22, 0.26, 18), coat, -0.49, 0.97, 0);
  skirt.rotation.z = -0.15;
  body.add(skirt);
  const neck = at(-0.23, 1.47, 0);
  body.add(bar(at(-0.27, 1.4, 0), neck.clone().add(at(0.03, 0.07, 0)), 0.055, skin));
  const head = placed(new THREE.SphereGeometry(0.108, 24, 18), skin, -0.17, 1.62, 0);
  head.scale.set(0.95, 1.15, 0.9);
  body.add(head, placed(new THREE.SphereGeometry(0.022, 10, 8), skin, -0.065, 1.61, 0));
  const crown = placed(new THREE.SphereGeometry(0.118, 24, 12, 0, Math.PI * 2, 0, Math.PI / 2), cap, -0.18, 1.66, 0);
  crown.rotation.z = -0.1;
  const peak = placed(new THREE.CylinderGeometry(0.1, 0.1, 0.014, 20), cap, -0.1, 1.665, 0);
  peak.scale.z = 0.8;
  body.add(crown, peak);
  const scarf = placed(new THREE.TorusGeometry(0.075, 0.036, 10, 22), new THREE.MeshStandardMaterial({ color: 0xb8b09a, roughness: 0.95 }), -0.235, 1.475, 0);
  scarf.rotation.x = Math.PI / 2;
  body.add(scarf);
  const tail = shaded(new THREE.Mesh(new THREE.BufferGeometry(), scarf.material));
  body.add(tail);
  const satchel = placed(new THREE.BoxGeometry(0.3, 0.24, 0.1), leather, -0.52, 1.02, 0.25);
  satchel.rotation.z = -0.2;
  body.add(satchel, bar(at(-0.45, 1.13, 0.26), at(-0.24, 1.44, 0.06), 0.014, leather));
  for (const side of [-1, 1]) {
    const shoulder = at(-0.27, 1.37, 0.2 * side);
    const elbow = at(-0.08, 1.14, 0.27 * side);
    body.add(bar(shoulder, elbow, 0.062, coat, 0.05), bar(elbow, at(0.1, 1.07, 0.25 * side), 0.05, coat, 0.04));
    body.add(
      placed(new THREE.SphereGeometry(0.062, 14, 10), coat, shoulder.x, shoulder.y, shoulder.z),
      placed(new THREE.SphereGeometry(0.05, 12, 10), coat, elbow.x, elbow.y, elbow.z),
    );
    body.add(placed(new THREE.SphereGeometry(0.046, 12, 10), skin, 0.12, 1.06, 0.25 * side));
  }
  group.add(body);
  const legs = [-1, 1].map((side) => {
    const parts = {
      side,
      thigh: bar(at(0, 0, 0), at(0, 0.43, 0), 0.085, trousers, 0.062),
      shin: bar(at(0, 0, 0), at(0, 0.44, 0), 0.06, trousers, 0.042),
      cap: placed(new THREE.SphereGeometry(0.064, 14, 10), trousers, 0, 0, 0),
      shoe: placed(new THREE.CapsuleGeometry(0.048, 0.16, 4, 12), leather, 0, 0, 0),
      arm: bar(at(0, 0, 0), at(0, 0.17, 0), 0.012, metal),
    };
    parts.shoe.rotation.z = Math.PI / 2;
    group.add(parts.thigh, parts.shin, parts.cap, parts.shoe, parts.arm);
    return parts;
  });

  return {
    group,
    /** Places the trike at `x` metres along the quay at a moment in frames. */
    pose(x: number, time: number) {
      group.position.set(x, 0.012 * Math.sin(time * 0.9), 0.35);
      group.rotation.z = 0.006 * Math.sin(time * 0.9 + 1);
      for (const w of wheels) w.rotation.z = -x / WHEEL;
      const turn = -(x / WHEEL) * 0.62;
      body.rotation.x = 0.035 * Math.sin(turn);
      body.position.y = 0.01 * Math.sin(turn * 2);
      const wave = [0, 1, 2, 3, 4].map((i) =>
        at(-0.28 - i * 0.13, 1.47 - 0.022 * i * i * 0.4 + 0.024 * i * Math.sin(time * 0.55 - i * 0.9), 0.02 * i * Math.sin(time * 0.4 - i * 0.7)),
      );
      tail.geometry.dispose();
      tail.geometry = new THREE.TubeGeometry(new THREE.CatmullRomCurve3(wave), 24, 0.045, 8).scale(1, 1, 0.45);
      for (const leg of legs) {
        const angle = turn + (leg.side > 0 ? Math.PI : 0);
        const pedal = at(crank.x + Math.cos(angle) * 0.165, crank.y + Math.sin(angle) * 0.165, 0.13 * leg.side);
        const foot = pedal.clone().add(at(-0.02, 0.09, 0));
        const hip = at(-0.46, 0.93, 0.1 * leg.side);
        const bend = knee(hip, foot, 0.43, 0.44);
        layBar(leg.thigh, hip, bend);
        layBar(leg.shin, bend, foot);
        leg.cap.position.copy(bend);
        leg.shoe.position.copy(pedal).add(at(0.05, 0.05, 0));
        layBar(leg.arm, at(crank.x, crank.y, 0.09 * leg.side), at(pedal.x, pedal.y, 0.09 * leg.side));
      }
    },
  };
}

function boat(hull: THREE.Material, deck: THREE.Material): THREE.Group {
  const group = new THREE.Group();
  const outline = new THREE.Shape();
  outline.moveTo(-1.6, 0.1);
  outline.quadraticCurveTo(-1.5, -0.55, -0.9, -0.6);
  outline.lineTo(1.1, -0.6);
  outline.quadraticCurveTo(1.9, -0.3, 2.2, 0.35);
  outline.quadraticCurveTo(0.5, 0.0, -1.6, 0.1);
  const side = new THREE.Mesh(
    new THREE.ExtrudeGeometry(outline, { depth: 1, bevelEnabled: true, bevelSize: 0.1, bevelThickness: 0.25, bevelSegments: 3 }),
    hull,
  );
  side.position.z = -0.5;
  group.add(side, placed(new THREE.BoxGeometry(0.9, 0.75, 0.8), deck, -0.5, 0.45, 0), bar(at(0.5, 0, 0), at(0.5, 2.6, 0), 0.035, deck));
  return shaded(group);
}

/** Somebody on the quay: what they are made of, and where they are at a moment in frames. */
interface Passing {
  group: THREE.Object3D;
  frames: number;
  marks: Scene['marks'];
  /** How much of a cloud is over the sun at a moment: [0,1]. */
  cloud?(time: number): number;
  pose(time: number): void;
}

const CRATE_MARKS: [string, THREE.Vector3][] = [
  ['crate-0', at(0.26, 0.97, 0.35)],
  ['crate-1', at(1.18, 0.97, 0.35)],
  ['crate-2', at(1.18, 0.53, 0.35)],
  ['crate-3', at(0.26, 0.53, 0.35)],
  ['parcel', at(0.52, 1.08, 0.24)],
  ['crate-board', at(0.72, 0.975, 0.37)],
  ['trim-corner', at(0.2825, 0.9475, 0.37)],
];

function firstTake(): Passing {
  const frames = 84;
  const rider = courier();
  return {
    group: rider.group,
    frames,
    marks: CRATE_MARKS.map(([name, place]) => ({ name, on: rider.group, at: place })),
    cloud: (time) => Math.exp(-(((time - 52) / 13) ** 2)),
    pose(time) {
      const t = time / frames;
      rider.pose(-3.15 + 6.1 * (t + 0.05 * Math.sin(t * Math.PI * 2)), time);
    },
  };
}

/** He comes in from the right, further back, and comes to a stop; the scarf goes on waving. */
function secondTake(): Passing {
  const rider = courier();
  const turned = new THREE.Group();
  turned.rotation.y = Math.PI;
  turned.position.z = -0.7;
  turned.add(rider.group);
  return {
    group: turned,
    frames: 60,
    marks: ['satchel', 'parcel'].map((name, i) => ({ name, on: rider.group, at: [at(-0.52, 1.02, -0.05), at(0.52, 1.08, -0.04)][i] })),
    cloud: () => 0.08,
    pose(time) {
      const left = Math.max(0, 1 - time / 50);
      rider.pose(-1.35 - 2.5 * left ** 2.2, time + 31);
    },
  };
}

/** A porter with a crate on the shoulder, so close to the camera that he fills its height and is out of focus. */
function passerBy(): Passing {
  const group = new THREE.Group();
  const cloth = surfaceMaterial(mottled([0.2, 0.26, 0.22], [0.12, 0.16, 0.14], 0.5, 10, 112), [2, 2], 2);
  const wool = surfaceMaterial(mottled([0.46, 0.24, 0.16], [0.34, 0.16, 0.1], 0.5, 16, 114), [3, 2], 3);
  const skin = surfaceMaterial(mottled([0.62, 0.42, 0.31], [0.56, 0.34, 0.25], 0.45, 9, 115), [1, 1]);
  const boards = surfaceMaterial(planks(5, [0.55, 0.41, 0.26], 118), [1, 1], 3);
  const torso = placed(new THREE.CapsuleGeometry(0.19, 0.62, 8, 22), cloth, 0, 1.12, 0);
  torso.scale.z = 1.25;
  group.add(torso, placed(new THREE.CylinderGeometry(0.2, 0.27, 0.5, 22), cloth, -0.01, 0.85, 0));
  group.add(bar(at(0.02, 1.44, 0), at(0.07, 1.58, 0), 0.065, skin));
  const head = placed(new THREE.SphereGeometry(0.115, 24, 18), skin, 0.12, 1.66, -0.1);
  head.scale.set(0.95, 1.2, 0.9);
  group.add(head, placed(new THREE.SphereGeometry(0.128, 24, 12, 0, Math.PI * 2, 0, Math.PI / 2), wool, 0.11, 1.7, -0.1));
  const crate = placed(new THREE.BoxGeometry(0.72, 0.5, 0.42), boards, -0.06, 1.82, 0.2);
  crate.rotation.z = 0.06;
  group.add(crate);
  for (const x of [-0.36, 0.24]) {
    const batten = placed(new THREE.BoxGeometry(0.06, 0.53, 0.45), boards, x, 1.82, 0.2);
    batten.rotation.z = 0.06;
    group.add(batten);
  }
  for (const [side, hand] of [
    [1, at(0.32, 1.6, 0.34)],
    [-1, at(0.3, 0.9, -0.3)],
  ] as const) {
    const shoulder = at(0, 1.4, 0.24 * side);
    const elbow = at(0.24, 1.22, 0.33 * side);
    group.add(
      bar(shoulder, elbow, 0.075, cloth, 0.062),
      bar(elbow, hand, 0.06, cloth, 0.046),
      placed(new THREE.SphereGeometry(0.052, 12, 10), skin, hand.x, hand.y, hand.z),
    );
    for (const [joint, size] of [
      [shoulder, 0.078],
      [elbow, 0.062],
    ] as const)
      group.add(placed(new THREE.SphereGeometry(size, 14, 10), cloth, joint.x, joint.y, joint.z));
  }
  return {
    group,
    frames: 48,
    marks: [{ name: 'crate-corner', on: group, at: at(0.27, 1.6, 0.42) }],
    pose(time) {
      const steps = time * 0.42;
      group.position.set(-1.55 + (3.5 * time) / 48, 0.022 * Math.abs(Math.sin(steps)), 5.6);
      group.rotation.set(0.02 * Math.sin(steps), 0, -0.03 + 0.012 * Math.sin(steps * 2));
    },
  };
}

export const quayCourier = (): Scene => quay(firstTake());
export const quayCourierAgain = (): Scene => quay(secondTake());
export const quayPasserBy = (): Scene => quay(passerBy());

function quay(passing: Passing): Scene {
  const scene = new THREE.Scene();
  scene.background = new THREE.Color(0.42, 0.5, 0.56);
  scene.fog = new THREE.Fog(new THREE.Color(0.46, 0.52, 0.56), 16, 60);
  const paving = surfaceMaterial(blocks(6, 8, [0.5, 0.47, 0.43], 0.035, 40), [4, 2], 5, 1024);
  const ground = new THREE.Mesh(new THREE.PlaneGeometry(24, 7.4), paving);
  ground.rotation.x = -Math.PI / 2;
  ground.position.z = 0.4;
  scene.add(shaded(ground));
  const kerb = surfaceMaterial(blocks(9, 1, [0.58, 0.55, 0.5], 0.05, 44), [2, 1], 4);
  scene.add(placed(new THREE.BoxGeometry(24, 0.22, 0.55), kerb, 0, 0.1, -3.3));
  const iron = surfaceMaterial(mottled([0.15, 0.15, 0.16], [0.36, 0.19, 0.1], 0.42, 14, 50), [2, 2], 3);
  for (const x of [-4.6, -1.4, 1.8, 5]) {
    scene.add(placed(new THREE.CylinderGeometry(0.15, 0.2, 0.55, 20), iron, x, 0.45, -3.2), placed(new THREE.SphereGeometry(0.2, 20, 12), iron, x, 0.74, -3.2));
  }
  const rope = surfaceMaterial(mottled([0.62, 0.54, 0.4], [0.4, 0.33, 0.22], 0.5, 20, 52), [6, 1], 3);
  for (const x of [-3, 0.2, 3.4]) {
    const arc = new THREE.QuadraticBezierCurve3(at(x - 1.55, 0.62, -3.15), at(x, 0.12, -3.05), at(x + 1.55, 0.62, -3.15));
    scene.add(shaded(new THREE.Mesh(new THREE.TubeGeometry(arc, 30, 0.035, 8), rope)));
  }
  const waves = surfaceMaterial(water(90, [0.16, 0.25, 0.28], 0.18, 60), [3, 3], 4);
  const sea = new THREE.Mesh(new THREE.PlaneGeometry(80, 30), waves);
  sea.rotation.x = -Math.PI / 2;
  sea.position.set(0, -0.9, -18);
  scene.add(sea);
  const brick = surfaceMaterial(blocks(10, 22, [0.5, 0.3, 0.23], 0.06, 70), [6, 2.4], 4, 1024);
  const plaster = surfaceMaterial(mottled([0.72, 0.68, 0.58], [0.5, 0.46, 0.4], 0.4, 7, 72), [3, 2], 2);
  const slate = surfaceMaterial(blocks(12, 12, [0.24, 0.25, 0.28], 0.05, 74), [3, 2], 3);
  const windowDark = new THREE.MeshStandardMaterial({ color: 0x1c2328, roughness: 0.15, metalness: 0.1 });
  const houses: [number, number, number, THREE.Material][] = [
    [-10, 5.4, 6, brick],
    [-3.6, 4.2, 6.2, plaster],
    [3, 5.8, 6.4, brick],
    [9.6, 4.6, 6, plaster],
  ];
  houses.forEach(([x, height, width, wall], i) => {
    scene.add(placed(new THREE.BoxGeometry(width, height, 4), wall, x, height / 2 - 0.5, -20));
    const roof = placed(new THREE.CylinderGeometry(0.05, 2.6, 1.6, 4), slate, x, height + 0.25, -20);
    roof.rotation.y = Math.PI / 4;
    roof.scale.set(width / 3.6, 1, 1.1);
    scene.add(roof);
    for (let c = 0; c < 4; c++)
      for (let r = 0; r < 2 + (i % 2); r++)
        scene.add(placed(new THREE.BoxGeometry(0.6, 0.85, 0.12), windowDark, x - width / 2 + 0.95 + (c * (width - 1.9)) / 3, 0.75 + r * 1.45, -17.98));
  });
  scene.add(placed(new THREE.BoxGeometry(60, 1.2, 3), kerb, 0, -0.55, -17.2));
  const hulls = [mottled([0.5, 0.2, 0.14], [0.3, 0.13, 0.1], 0.4, 9, 80), mottled([0.14, 0.3, 0.36], [0.4, 0.36, 0.3], 0.36, 9, 81)].map((m) =>
    surfaceMaterial(m, [0.6, 0.6], 2),
  );
  const deck = surfaceMaterial(planks(5, [0.7, 0.64, 0.52], 84), [1, 1], 2);
  const boats = [boat(hulls[0], deck), boat(hulls[1], deck)];
  boats[0].position.set(-4.4, -0.55, -8.5);
  boats[1].position.set(5.2, -0.55, -10);
  boats[1].scale.set(-1.1, 1.1, 1.1);
  scene.add(...boats);
  const crates = surfaceMaterial(planks(5, [0.5, 0.38, 0.25], 90), [1, 1], 3);
  for (const [x, y, z, turn, size] of [
    [-3.9, 0.3, -2.1, 0.2, 0.6],
    [-3.25, 0.24, -2.3, -0.3, 0.48],
    [-3.7, 0.83, -2.15, 0.5, 0.45],
    [3.7, 0.32, -2.2, 0.1, 0.64],
  ]) {
    const c = placed(new THREE.BoxGeometry(size, size, size), crates, x, y, z);
    c.rotation.y = turn;
    scene.add(c);
  }
  const coil = new THREE.Group();
  for (let i = 0; i < 5; i++) {
    const ring = new THREE.Mesh(new THREE.TorusGeometry(0.3 - i * 0.015, 0.04, 8, 32), rope);
    ring.rotation.x = Math.PI / 2;
    ring.position.y = 0.04 + i * 0.07;
    coil.add(ring);
  }
  coil.position.set(2.7, 0, -2);
  scene.add(shaded(coil));

  scene.add(passing.group);
  const sky = new THREE.HemisphereLight(0xcfdfee, 0x77695a, 1.25);
  const home = at(-7, 8, 5);
  const key = sun(0xffedd0, 4.2, home, 9);
  scene.add(sky, key, key.target);
  const camera = new THREE.PerspectiveCamera(31, 16 / 9, 0.1, 120);
  camera.position.set(0.3, 1.75, 7.4);
  camera.lookAt(0.1, 0.85, 0);
  camera.updateMatrixWorld();

  return {
    scene,
    camera,
    subject: passing.group,
    frames: passing.frames,
    focus: 7.1,
    aperture: 0.022,
    exposure: 0.92,
    lights: [{ light: key, radius: 0.55, home }],
    marks: [...passing.marks, { name: 'bollard', on: scene, at: at(1.8, 0.74, -3) }],
    pose(time) {
      passing.pose(time);
      const cloud = passing.cloud?.(time) ?? 0;
      key.intensity = 4.2 * (1 - 0.62 * cloud);
      sky.intensity = 1.25 * (1 - 0.12 * cloud);
      boats.forEach((b, i) => {
        b.rotation.z = 0.02 * Math.sin(time * 0.06 + i * 2);
        b.position.y = -0.55 + 0.03 * Math.sin(time * 0.05 + i);
      });
    },
  };
}
