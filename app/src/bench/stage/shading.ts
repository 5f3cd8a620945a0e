/** How figures are drawn: with light, in their colours alone, or as one dark shape. */
export type Shading = 'lit' | 'flat' | 'silhouette';
