// Scales a photograph down before upload, since signal is weak outdoors.
const most = 1000;
document.addEventListener("change", async (e) => {
  if (
    e.target.type !== "file" ||
    !e.target.closest("[data-small-photo]") ||
    !e.target.files[0] ||
    !window.createImageBitmap
  )
    return;
  try {
    const picture = await createImageBitmap(e.target.files[0], { imageOrientation: "from-image" });
    const share = Math.min(1, most / Math.max(picture.width, picture.height));
    const canvas = document.createElement("canvas");
    [canvas.width, canvas.height] = [Math.round(picture.width * share), Math.round(picture.height * share)];
    canvas.getContext("2d").drawImage(picture, 0, 0, canvas.width, canvas.height);
    const small = await new Promise((done) => {
      canvas.toBlob(done, "image/jpeg", 0.75);
    });
    const files = new DataTransfer();
    files.items.add(new File([small], "photo.jpg", { type: "image/jpeg" }));
    e.target.files = files.files;
  } catch {
    // The server scales what the browser cannot.
  }
});
