import { redirect } from 'react-router';
import type { Route } from './+types/shot-start';

export const loader = ({ params }: Route.LoaderArgs) => redirect(`/shots/${params.shotId}/isolate`);
