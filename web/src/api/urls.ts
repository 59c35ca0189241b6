/** Addresses of the API that are fetched as they are: pictures, files, events. */
export const BASE = '/api/v1';

export const frameUrl = (mediaId: number, frame: number, kind: 'jpg' | 'png'): string => `${BASE}/media/${mediaId}/frames/${frame}.${kind}`;
export const resultUrl = (jobId: number): string => `${BASE}/jobs/${jobId}/result`;
export const exportUrl = (shotId: number, format: string): string => `${BASE}/shots/${shotId}/export/${format}`;
export const EVENTS_URL = `${BASE}/events`;
