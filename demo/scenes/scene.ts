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
  /** Moves everything to a moment in frames (fractions allowed). */
  pose(time: number): void;
  /** Lights to spread over a small disc for soft shadows. */
  lights: { light: THREE.DirectionalLight | THREE.SpotLight; radius: number; home: THREE.Vector3 }[];
}
