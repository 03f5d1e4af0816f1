/** Speed of sound in air at 20 degrees C, m/s (handbook value). */
export const speedOfSound = 343;
