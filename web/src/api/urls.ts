/** Addresses of the API that are fetched as they are: pictures, files, events. */
export const BASE = '/api/v1';

/** What of a medium its pictures' addresses are made of: `view` names how its codes are shown. */
export interface PictureSource {
  id: number;
  view: string;
}

export const frameUrl = (media: PictureSource, frame: number, kind: 'jpg' | 'png', stops = 0): string =>
  `${BASE}/media/${media.id}/frames/${frame}.${kind}?v=${media.view}${stops === 0 ? '' : `&ev=${stops}`}`;
export const resultUrl = (jobId: number): string => `${BASE}/jobs/${jobId}/result`;
export const exportUrl = (shotId: number, format: string): string => `${BASE}/shots/${shotId}/export/${format}`;
export const fileUrl = (jobId: number, name: string): string =>
  `${BASE}/jobs/${jobId}/files/${encodeURIComponent(name)}`;
/** A finished frame, light enough to be played. */
export const finishedUrl = (key: string): string => `${BASE}/finished/${key}.jpg`;
export const archiveUrl = (projectId: number, plates: boolean, renders: boolean): string =>
  `${BASE}/projects/${projectId}/archive?plates=${plates ? 'yes' : 'no'}&renders=${renders ? 'yes' : 'no'}`;
export const DESCRIPTION_URL = `${BASE}/openapi.json`;
export const EVENTS_URL = `${BASE}/events`;
export const sheetUrl = (shotId: number, frame: number, stamp: string): string =>
  `${BASE}/shots/${shotId}/variants/sheet.jpg?frame=${frame}&of=${stamp}`;
export const versionFrameUrl = (jobId: number, frame: number): string => `${BASE}/jobs/${jobId}/frames/${frame}.jpg`;
export const reviewFrameUrl = (secret: string, jobId: number, frame: number): string =>
  `${BASE}/guest/reviews/${secret}/versions/${jobId}/frames/${frame}.jpg`;
export const slotFrameUrl = (secret: string, frame: number, key: string): string =>
  `${BASE}/guest/slots/${secret}/frames/${frame}.jpg?of=${key.slice(0, 16)}`;
export const slotFileUrl = (secret: string, name: string): string =>
  `${BASE}/guest/slots/${secret}/files/${encodeURIComponent(name)}`;
