//go:build js && wasm

// Command device is the core on a phone or tablet, as WebAssembly: it answers calls of the page's worker (core/device).
package main

import (
	"syscall/js"

	"uskel/core/device"
)

func main() {
	js.Global().Set("uskelCore", js.FuncOf(func(_ js.Value, args []js.Value) any {
		out, err := device.Call(args[0].String(), []byte(args[1].String()))
		if err != nil {
			return map[string]any{"error": err.Error()}
		}
		return map[string]any{"out": string(out)}
	}))
	js.Global().Call("uskelReady")
	select {} // the page's worker ends it
}
