import { Canvas } from "@react-three/fiber";
import type { ReactNode } from "react";
import { PCFShadowMap, WebGLRenderer, type WebGLRendererParameters } from "three";
import type { Shot } from "../api/shots";
import { useTones } from "../theme/palette";
import { AtRest, finenessNow } from "./AtRest";
import { Camera } from "./Camera";
import { earlyDrawing, quality } from "./mesh/quality";
import { PressTwice } from "./PressTwice";
import { useTurning } from "./useTurning";

function renderer(props: object): WebGLRenderer {
  const settings = { ...props, antialias: quality.smooth, alpha: true } as WebGLRendererParameters;
  const early = earlyDrawing();
  if (!early) return new WebGLRenderer(settings);
  const given = settings.canvas as HTMLCanvasElement;
  early.canvas.className = given.className;
  early.canvas.style.cssText = given.style.cssText;
  given.replaceWith(early.canvas);
  return new WebGLRenderer({ ...settings, ...early });
}

/** The day-lit stage: drag anywhere empty to turn the figure, wheel to come near, press twice to look closely. */
export function Stage({ children, label, shot }: { children: ReactNode; label: string; shot?: Shot["shot"] }) {
  const tone = useTones();
  return (
    <div
      role="img"
      aria-label={label}
      className="absolute inset-0 cursor-grab active:cursor-grabbing"
      style={{
        background:
          "radial-gradient(60% 75% at 50% 45%, var(--stage-middle), var(--stage-between) 60%, var(--stage-edge))",
        touchAction: "none",
      }}
      {...useTurning()}
    >
      <Canvas
        frameloop="demand"
        shadows={quality.shadows ? { type: PCFShadowMap } : false}
        dpr={quality.smooth ? [1, 1.5] : finenessNow()}
        gl={renderer}
        onCreated={({ gl }) => {
          gl.debug.checkShaderErrors = import.meta.env.DEV; // asking for them waits for the compiler
        }}
        camera={{ fov: 24, near: 0.1, far: 20, position: [1.8, 1.2, 5] }}
      >
        <Camera shot={shot} />
        <PressTwice />
        {!quality.smooth && <AtRest />}
        <hemisphereLight args={[tone("sky"), tone("earth"), 1.35]} />
        <directionalLight
          position={[-1.9, 3.6, 2.9]}
          intensity={2.3}
          color={tone("sun")}
          castShadow={quality.shadows}
          shadow-mapSize={[2048, 2048]}
          shadow-camera-left={-1.3}
          shadow-camera-right={1.9}
          shadow-camera-top={1.9}
          shadow-camera-bottom={-1.3}
          shadow-bias={-0.0006}
          shadow-normalBias={0.02}
          shadow-radius={5}
        />
        <directionalLight position={[2.6, 1.4, -1.6]} intensity={0.7} color={tone("side")} />
        <mesh rotation-x={-Math.PI / 2} receiveShadow position-y={-0.001}>
          <circleGeometry args={[0.8, 64]} />
          {quality.shadows ? (
            <meshLambertMaterial color={tone("ground")} />
          ) : (
            <meshBasicMaterial color={tone("ground")} />
          )}
        </mesh>
        {!quality.shadows && (
          <mesh rotation-x={-Math.PI / 2} position-y={0.0005}>
            <circleGeometry args={[0.3, 48]} />
            <meshBasicMaterial color={tone("shade")} transparent opacity={0.13} />
          </mesh>
        )}
        {children}
      </Canvas>
    </div>
  );
}
