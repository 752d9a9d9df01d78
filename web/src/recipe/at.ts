/**
 * Reading where an index is within its array by construction. One function for each kind of array, so that each stays as quick in a hot
 * loop as the plain access: a shared one would see many kinds, and be compiled for none.
 */
export const f32 = (array: Float32Array, index: number) => array[index] as number;
export const f64 = (array: Float64Array, index: number) => array[index] as number;
export const i16 = (array: Int16Array, index: number) => array[index] as number;
export const i32 = (array: Int32Array, index: number) => array[index] as number;
export const u16 = (array: Uint16Array, index: number) => array[index] as number;
export const u32 = (array: Uint32Array, index: number) => array[index] as number;

/** The item of a list at an index that is within it by construction. */
export const item = <T>(list: readonly T[], index: number) => list[index] as T;
