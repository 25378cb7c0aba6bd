import { index, type RouteConfig, route } from '@react-router/dev/routes';

export default [
  index('routes/productions.tsx'),
  route('productions/:productionId', 'routes/production.tsx'),
  route('deleted', 'routes/deleted.tsx'),
  route('shortcuts', 'routes/shortcuts.tsx'),
  route('shots/:shotId/:bench', 'routes/workbench.tsx'),
  route('shots/:shotId', 'routes/shot-start.ts'),
  route('shots/:shotId/changes', 'routes/shot-changes.ts'),
  route('shots/:shotId/document', 'routes/shot-document.ts'),
  route('shots/:shotId/outputs', 'routes/shot-outputs.ts'),
  route('outputs/:jobId/zip', 'routes/output-zip.ts'),
  route('outputs/:jobId/files/:name', 'routes/output-file.ts'),
  route('plates/:plateId/:size/:frame', 'routes/plate-frame.ts'),
  route('uploads', 'routes/uploads.ts'),
  route('uploads/:uploadId', 'routes/upload.ts'),
  route('uploads/:uploadId/:position', 'routes/upload-file.ts'),
  route('events', 'routes/events.ts'),
  route('jobs', 'routes/jobs.ts'),
  route('jobs/:jobId', 'routes/job.ts'),
  route('document.schema.json', 'routes/document-schema.ts'),
] satisfies RouteConfig;
