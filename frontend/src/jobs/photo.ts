const LONGEST_PX = 1600;

/** A photo made smaller on the device, so that many fit into it and a slow line takes them. */
export async function smaller(file: Blob): Promise<Blob> {
  try {
    const picture = await createImageBitmap(file);
    const scale = Math.min(1, LONGEST_PX / Math.max(picture.width, picture.height));
    const canvas = document.createElement("canvas");
    canvas.width = Math.round(picture.width * scale);
    canvas.height = Math.round(picture.height * scale);
    canvas.getContext("2d")?.drawImage(picture, 0, 0, canvas.width, canvas.height);
    const made = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, "image/jpeg", 0.85));
    return made ?? file;
  } catch {
    return file; // the server says what is wrong with it
  }
}
