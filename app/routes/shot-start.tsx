import { useEffect } from 'react';
import { useNavigate } from 'react-router';
import { shotAddress } from '../state/left-off.ts';
import type { Route } from './+types/shot-start';
import { orErrorPage } from './answer.ts';

export const loader = ({ params, context }: Route.LoaderArgs) =>
  orErrorPage(context, async () => {
    await context.services.shots.shot(params.shotId);
    return null;
  });

/** A shot without a bench opens at the one on which it was left, which only the browser knows. */
export default function ShotStart({ params }: Route.ComponentProps) {
  const navigate = useNavigate();
  useEffect(() => void navigate(shotAddress(params.shotId), { replace: true }), [navigate, params.shotId]);
  return <p className="p-6 text-quiet">Opening the shot …</p>;
}
