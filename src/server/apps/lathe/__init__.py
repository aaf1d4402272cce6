"""At the lathe: drawn shapes, callipers, cores, reach, speeds used."""
