/**
 * "The ferry ramp": the camera walks up to a printed sign beside the ramp, slowly, then fast; a deckhand passes in front of it.
 * The sign is flat, so that its motion is a homography.
 */
import * as THREE from 'three';
import { fractalNoise, valueNoise } from '../noise.ts';
import { blocks, mottled, planks, surfaceMaterial, water } from '../textures.ts';
import { at, bar, layBar, placed, shaded, sun } from './build.ts';
import type { Scene } from './scene.ts';

const FRAMES = 60;
const [SIGN_WIDTH, SIGN_HEIGHT] = [1.26, 0.84];

/** What is printed on the sign: words, an arrow, stripes; worn a little. */
function print(): THREE.MeshStandardMaterial {
  const canvas = document.createElement('canvas');
  [canvas.width, canvas.height] = [1536, 1024];
  const c = canvas.getContext('2d') as CanvasRenderingContext2D;
  c.fillStyle = '#d9d2bd';
  c.fillRect(0, 0, 1536, 1024);
  c.strokeStyle = '#27424d';
  c.lineWidth = 34;
  c.strokeRect(44, 44, 1448, 936);
  c.fillStyle = '#27424d';
  c.textAlign = 'center';
  c.font = '700 188px sans-serif';
  c.fillText('LOW TIDE', 768, 290);
  c.font = '700 132px sans-serif';
  c.fillText('POST  ·  RAMP 2', 768, 470);
  c.font = '500 62px sans-serif';
  c.fillText('Carts and trikes wait for the bell', 768, 590);
  c.fillText('High water: no crossing', 768, 680);
  c.fillStyle = '#b0642c';
  c.beginPath();
  for (const [x, y] of [
    [420, 800],
    [900, 800],
    [900, 730],
    [1110, 840],
    [900, 950],
    [900, 880],
    [420, 880],
  ])
    c.lineTo(x, y);
  c.fill();
  for (let i = 0; i < 5; i++) c.fillRect(150 + i * 46, 760, 24, 160);
  const image = c.getImageData(0, 0, 1536, 1024);
  for (let y = 0; y < 1024; y++)
    for (let x = 0; x < 1536; x++) {
      const worn = fractalNoise(x / 90, y / 90, 5, 5);
      const shade = 0.86 + 0.28 * (worn - 0.5) + (fractalNoise(x / 7, y / 7, 6, 2) - 0.5) * 0.12;
      for (let k = 0; k < 3; k++) image.data[(y * 1536 + x) * 4 + k] = Math.min(255, image.data[(y * 1536 + x) * 4 + k] * shade + (worn > 0.68 ? 26 : 0));
    }
  c.putImageData(image, 0, 0);
  const map = new THREE.CanvasTexture(canvas);
  map.colorSpace = THREE.SRGBColorSpace;
  map.anisotropy = 8;
  return new THREE.MeshStandardMaterial({ map, roughness: 0.62 });
}

/** A person in an oilskin who walks along x. */
function deckhand() {
  const group = new THREE.Group();
  const oilskin = surfaceMaterial(mottled([0.16, 0.3, 0.33], [0.1, 0.2, 0.24], 0.5, 9, 101), [2, 2], 2);
  const boots = surfaceMaterial(mottled([0.09, 0.09, 0.1], [0.15, 0.13, 0.12], 0.5, 9, 102), [1, 1]);
  const skin = surfaceMaterial(mottled([0.7, 0.5, 0.4], [0.6, 0.4, 0.32], 0.5, 9, 103), [1, 1]);
  const torso = placed(new THREE.CapsuleGeometry(0.22, 0.52, 6, 18), oilskin, 0, 1.22, 0);
  torso.scale.z = 1.15;
  group.add(torso, placed(new THREE.CylinderGeometry(0.21, 0.29, 0.36, 18), oilskin, 0, 0.86, 0));
  group.add(placed(new THREE.SphereGeometry(0.13, 20, 16), skin, 0.02, 1.72, 0), placed(new THREE.ConeGeometry(0.2, 0.16, 20), oilskin, 0, 1.84, 0));
  const legs = [-1, 1].map((side) => ({
    side,
    leg: bar(at(0, 0, 0), at(0, 0.8, 0), 0.09, boots, 0.075),
    arm: bar(at(0, 0, 0), at(0, 0.6, 0), 0.065, oilskin),
  }));
  for (const { leg, arm } of legs) group.add(leg, arm);
  return {
    group,
    pose(x: number, time: number) {
      group.position.set(x, 0.02 * Math.abs(Math.sin(time * 0.28)), 1.2);
      for (const { side, leg, arm } of legs) {
        const swing = 0.55 * Math.sin(time * 0.28) * side;
        layBar(leg, at(0.3 * swing * 1.6, 0.05, 0.1 * side), at(0, 0.84, 0.1 * side));
        layBar(arm, at(-0.3 * swing * 1.2, 0.92, 0.3 * side), at(0, 1.5, 0.24 * side));
      }
    },
  };
}

export function ferryRamp(): Scene {
  const scene = new THREE.Scene();
  scene.background = new THREE.Color(0.5, 0.56, 0.6);
  scene.fog = new THREE.Fog(new THREE.Color(0.5, 0.55, 0.58), 14, 60);
  const stone = surfaceMaterial(blocks(7, 9, [0.46, 0.44, 0.4], 0.035, 111), [5, 4], 5, 1024);
  const ground = new THREE.Mesh(new THREE.PlaneGeometry(26, 18), stone);
  ground.rotation.x = -Math.PI / 2;
  scene.add(shaded(ground));
  const iron = surfaceMaterial(mottled([0.2, 0.2, 0.21], [0.4, 0.22, 0.12], 0.42, 13, 112), [2, 3], 3);
  const boards = surfaceMaterial(planks(12, [0.42, 0.34, 0.26], 113), [1, 2], 4, 1024);
  const ramp = placed(new THREE.BoxGeometry(3.4, 0.16, 7), boards, 3.1, 0.35, -4.6);
  ramp.rotation.x = 0.13;
  scene.add(ramp);
  for (const x of [1.45, 4.75]) {
    for (let i = 0; i < 5; i++) scene.add(bar(at(x, 0.1, -1.6 - i * 1.4), at(x, 1.35 - i * 0.1, -1.6 - i * 1.4), 0.035, iron));
    scene.add(bar(at(x, 1.3, -1.6), at(x, 0.95, -7.2), 0.03, iron));
  }
  const hull = surfaceMaterial(mottled([0.42, 0.2, 0.15], [0.55, 0.5, 0.44], 0.34, 8, 115), [3, 1], 3);
  const house = surfaceMaterial(planks(9, [0.74, 0.7, 0.6], 116), [2, 1], 2);
  scene.add(placed(new THREE.BoxGeometry(11, 2.6, 3), hull, 2.4, 0.2, -10), placed(new THREE.BoxGeometry(5, 1.9, 2.2), house, 3.2, 2.3, -10));
  const dark = new THREE.MeshStandardMaterial({ color: 0x1d262b, roughness: 0.2 });
  for (let i = 0; i < 4; i++) scene.add(placed(new THREE.BoxGeometry(0.6, 0.6, 0.1), dark, 1.4 + i * 1.15, 2.5, -8.86));
  const waves = surfaceMaterial(water(80, [0.17, 0.26, 0.28], 0.2, 117), [3, 3], 4);
  const sea = new THREE.Mesh(new THREE.PlaneGeometry(90, 40), waves);
  sea.rotation.x = -Math.PI / 2;
  sea.position.set(0, -0.5, -26);
  scene.add(sea);
  const crates = surfaceMaterial(planks(5, [0.5, 0.4, 0.28], 118), [1, 1], 3);
  for (const [x, z, turn, size] of [
    [-2.2, -1.4, 0.3, 0.7],
    [-1.6, -2.2, -0.2, 0.6],
    [-3.4, -0.6, 0.6, 0.8],
  ]) {
    const crate = placed(new THREE.BoxGeometry(size, size, size), crates, x, size / 2, z);
    crate.rotation.y = turn;
    scene.add(crate);
  }

  const sign = new THREE.Group();
  const board = placed(new THREE.BoxGeometry(SIGN_WIDTH, SIGN_HEIGHT, 0.03), boards, 0, 0, -0.017);
  const face = new THREE.Mesh(new THREE.PlaneGeometry(SIGN_WIDTH, SIGN_HEIGHT), print());
  face.receiveShadow = true;
  sign.add(board, face);
  sign.position.set(-0.2, 1.5, 0);
  sign.rotation.set(-0.03, 0.32, 0.015);
  scene.add(sign);
  for (const x of [-0.62, 0.2]) scene.add(bar(at(x, 0, x * -0.33 - 0.14), at(x, 1.96, x * -0.33 - 0.14), 0.04, iron));
  const hand = deckhand();
  scene.add(hand.group);

  const home = at(-5, 8, 7);
  const key = sun(0xfff0d8, 3.6, home, 8);
  scene.add(new THREE.HemisphereLight(0xd0dbe6, 0x706558, 1.3), key, key.target);
  const camera = new THREE.PerspectiveCamera(34, 16 / 9, 0.1, 120);
  const [w, h] = [SIGN_WIDTH / 2, SIGN_HEIGHT / 2];
  const world = new THREE.Group();
  scene.add(world);

  return {
    scene,
    camera,
    subject: sign,
    frames: FRAMES,
    focus: 5.2,
    aperture: 0.006,
    exposure: 0.95,
    lights: [{ light: key, radius: 0.5, home }],
    marks: [
      { name: 'sign-0', on: sign, at: at(-w, h, 0) },
      { name: 'sign-1', on: sign, at: at(w, h, 0) },
      { name: 'sign-2', on: sign, at: at(w, -h, 0) },
      { name: 'sign-3', on: sign, at: at(-w, -h, 0) },
      { name: 'frame-corner', on: sign, at: at(-w + (44 / 1536) * SIGN_WIDTH, h - (44 / 1024) * SIGN_HEIGHT, 0) },
      { name: 'arrow-tip', on: sign, at: at((1110 / 1536 - 0.5) * SIGN_WIDTH, (0.5 - 840 / 1024) * SIGN_HEIGHT, 0) },
      { name: 'stripe', on: sign, at: at((174 / 1536 - 0.5) * SIGN_WIDTH, (0.5 - 760 / 1024) * SIGN_HEIGHT, 0) },
      { name: 'letter', on: sign, at: at((452 / 1536 - 0.5) * SIGN_WIDTH, (0.5 - 240 / 1024) * SIGN_HEIGHT, 0) },
      { name: 'window', on: world, at: at(2.25, 2.8, -8.81) },
      { name: 'rail-post', on: world, at: at(1.45, 1.3, -1.6) },
    ],
    pose(time) {
      const t = time / FRAMES;
      // A walk with its steps; over the last third much faster.
      const near = 6.9 - 2.0 * t - 2.6 * Math.max(0, t - 0.62) ** 2 * 6.9;
      const step = 0.018 * Math.sin(time * 0.52);
      const sway = (valueNoise(time / 9, 0, 7) - 0.5) * 0.11;
      camera.position.set(-0.75 + 0.95 * t + sway, 1.62 + step + (valueNoise(time / 11, 3, 8) - 0.5) * 0.05, near);
      camera.lookAt(0.42 - 0.3 * t + (valueNoise(time / 7, 9, 9) - 0.5) * 0.12, 1.45 + (valueNoise(time / 8, 5, 10) - 0.5) * 0.09, -0.4);
      camera.rotateZ((valueNoise(time / 10, 2, 11) - 0.5) * 0.03);
      camera.updateMatrixWorld();
      hand.pose(-3.3 + 0.125 * time, time);
    },
  };
}
