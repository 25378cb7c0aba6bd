/** What the stage needs to know of a scene. */
import type * as THREE from 'three';

export interface Scene {
  scene: THREE.Scene;
  camera: THREE.PerspectiveCamera;
  /** What the alpha is of; null renders the view without it (clean plate). */
  subject: THREE.Object3D;
  frames: number;
  /** Distance in metres that is sharp, and lens radius in metres. */
  focus: number;
  aperture: number;
  exposure: number;
  /** Moves everything, the camera too where it moves, to a moment in frames (fractions allowed). */
  pose(time: number): void;
  /** Places whose way through the picture is written down as ground truth for trackers. */
  marks: { name: string; on: THREE.Object3D; at: THREE.Vector3 }[];
  /** Lights to spread over a small disc for soft shadows. */
  lights: { light: THREE.DirectionalLight | THREE.SpotLight; radius: number; home: THREE.Vector3 }[];
}
