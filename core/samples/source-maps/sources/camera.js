const lowest = 0;

export class Camera {
  #steps = 0;
  static count = 0;
  constructor(place) {
    this.place = place;
    Camera.count++;
  }

  takePicture({ exposure }) {
    return checkedExposure(exposure, this.place);
  }

  static fromSettings(settings) {
    return new Camera(settings.place);
  }

  get lastPicture() {
    return this.pictures.at(-1);
  }

  #turn(angle) {
    this.#steps += angle;
    if (this.#steps > 3) throw new RangeError(`the camera ${this.place} cannot turn to ${this.#steps}`);
    this.#turn(angle + 1);
  }

  calibrate = () => {
    this.#turn(1);
  };
}

function checkedExposure(exposure, place) {
  if (exposure < lowest) {
    throw new TypeError(`exposure ${exposure} of ${place} is too low`);
  }
  return { exposure, place };
}

export async function openCamera(place) {
  const camera = new Camera(place);
  await null;
  const connect = async (port) => {
    await null;
    return camera.device[port].open();
  };
  return connect(3);
}
