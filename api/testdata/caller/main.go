// Command caller calls every operation of a client that somebody else's generator made of the description. What it is to call with
// comes on the standard input as JSON; what came of it goes out the same way. The client itself is made by the test that builds this.
package main

import (
	"bytes"
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"os"
	"reflect"
	"slices"
	"strings"
	"time"
)

// order is what to call with: made-up query fields and bodies by the name of the client's method.
type order struct {
	Base, Cookie string
	IDs          []string
	Params       map[string]json.RawMessage
	Bodies       map[string]json.RawMessage
	Photo        []byte
	Endless      []string // streams, which no call ends
	Last         []string // what ends the session
}

// outcome is what came of an operation: the best status of all tries, and what the client could not do.
type outcome struct {
	Name, Method string
	Status       int
	Trouble      string
}

func main() {
	var o order
	if err := json.NewDecoder(os.Stdin).Decode(&o); err != nil {
		panic(err)
	}
	var verb string
	signed := func(_ context.Context, r *http.Request) error {
		verb = r.Method
		r.Header.Set("Cookie", o.Cookie)
		r.Header.Set("Origin", o.Base)
		return nil
	}
	client, err := NewClientWithResponses(o.Base+"/api", WithRequestEditorFn(signed))
	if err != nil {
		panic(err)
	}
	all := reflect.ValueOf(client)
	names := []string{}
	for i := range all.NumMethod() {
		name := all.Type().Method(i).Name
		if !strings.HasSuffix(name, "WithResponse") || slices.Contains(o.Endless, short(name)) {
			continue // without it: the same, which reads nothing
		}
		if typed, both := strings.CutSuffix(name, "WithBodyWithResponse"); !both || !all.MethodByName(typed+"WithResponse").IsValid() {
			names = append(names, name)
		}
	}
	last := func(name string) int { return slices.Index(o.Last, short(name)) }
	slices.SortStableFunc(names, func(a, b string) int { return cmp.Compare(last(a), last(b)) })
	told := []outcome{}
	for _, name := range names {
		best := outcome{Name: short(name)}
		for _, id := range o.IDs {
			status, trouble := o.call(all.MethodByName(name), best.Name, id)
			best.Method = verb
			if trouble != "" {
				best.Trouble = trouble
			}
			if best.Status == 0 || status < best.Status {
				best.Status = status
			}
			if best.Status < 300 || trouble != "" {
				break
			}
		}
		told = append(told, best)
	}
	if err := json.NewEncoder(os.Stdout).Encode(told); err != nil {
		panic(err)
	}
}

func short(name string) string {
	return strings.TrimSuffix(strings.TrimSuffix(name, "WithResponse"), "WithBody")
}

// call calls one operation once, with one id for all that its address asks for.
func (o order) call(method reflect.Value, name, id string) (status int, trouble string) {
	ctx, done := context.WithTimeout(context.Background(), 20*time.Second)
	defer done()
	args := []reflect.Value{reflect.ValueOf(ctx)}
	for i := 1; i < method.Type().NumIn()-1; i++ { // the last are further editors of requests
		if word := len(id) != 36; word && method.Type().In(i).Kind() == reflect.Array {
			return http.StatusNotFound, "" // a procedure's name where a UUID is asked for
		}
		arg, err := o.argument(method.Type().In(i), method.Type().In(i+1), name, id)
		if err != nil {
			return 0, fmt.Sprintf("argument %d: %s", i, err)
		}
		args = append(args, arg)
	}
	got := method.Call(args)
	if err, _ := got[1].Interface().(error); err != nil {
		return 0, err.Error()
	}
	return got[0].Interface().(interface{ StatusCode() int }).StatusCode(), unread(got[0].Elem())
}

// unread says whether the client did not know what to make of an answer. Those that are no JSON are read as they are.
func unread(answer reflect.Value) string {
	raw := answer.FieldByName("HTTPResponse").Interface().(*http.Response)
	as := fmt.Sprint("JSON", raw.StatusCode)
	switch kind := raw.Header.Get("Content-Type"); {
	case raw.StatusCode >= 400:
		as = "ApplicationproblemJSONDefault"
	case !strings.HasPrefix(kind, "application/json"):
		return ""
	}
	if field := answer.FieldByName(as); !field.IsValid() || field.IsNil() {
		return fmt.Sprintf("an answer of %d was not read as %s", raw.StatusCode, as)
	}
	return ""
}

// argument makes an argument: what is sent, a word of the address, or the fields of a query. What comes after it tells the kind of a
// file from a word, and what is sent, which is last, from the fields of a query.
func (o order) argument(of, next reflect.Type, name, id string) (reflect.Value, error) {
	made := reflect.New(of)
	file := reflect.TypeFor[io.Reader]()
	switch last := next.Kind() == reflect.Slice; {
	case of == file:
		return reflect.ValueOf(bytes.NewReader(o.Photo)), nil
	case of.Kind() == reflect.Pointer:
		params := reflect.New(of.Elem())
		return params, json.Unmarshal(o.Params[name], params.Interface())
	case last && o.Bodies[name] != nil:
		return made.Elem(), json.Unmarshal(o.Bodies[name], made.Interface())
	case next == file:
		made.Elem().SetString("image/jpeg")
	case of.Kind() == reflect.Int64 || of.Kind() == reflect.Int:
		made.Elem().SetInt(1)
	case of.Kind() == reflect.Array: // a UUID
		return made.Elem(), json.Unmarshal([]byte(`"`+id+`"`), made.Interface())
	case of.Name() == "Skill":
		made.Elem().SetString("mitt")
	case of.Kind() == reflect.String:
		made.Elem().SetString(id)
	default:
		return made.Elem(), fmt.Errorf("nobody knows what to give for %s", of)
	}
	return made.Elem(), nil
}
