package render

import (
	"context"
	"time"

	"velours/core/frame"
	"velours/core/scatter"
)

// inPlace runs a pointwise pass, or a spatial one and the pointwise one after it if there is one, over the picture
// itself where it can, and returns how many passes that were, none if the operation cannot part, and the picture that they made. What lay between
// is then not to be had, so it is for renderers that keep nothing.
func (r *Renderer) inPlace(ctx context.Context, passes []pass, f *frame.Frame, n int) (int, *frame.Frame, error) {
	began := time.Now()
	if s := passes[0]; s.area == nil && s.near == nil {
		err := fuseInto(ctx, s.points, f, f, n, 0, 0)
		r.trace(s.name(), began)
		return 1, f, err
	}
	op, ok := passes[0].area.(Parting)
	if !ok {
		return 0, nil, nil
	}
	spread, err := op.Start(ctx, f)
	if err != nil || spread == nil {
		return 0, nil, err
	}
	defer func() { spread.Release() }()
	done := 1
	for ; done < len(passes); done++ { // those that follow need not wait for its last step
		next, err := startOn(ctx, passes[done], spread)
		if err != nil {
			return 0, nil, err
		}
		if next == nil {
			break
		}
		spread.Drop()
		spread = next
		r.trace(passes[done-1].name(), began)
		began = time.Now()
	}
	if done == len(passes) || passes[done].area != nil {
		err := spread.Fill(ctx, f)
		r.trace(passes[done-1].name(), began)
		return done, f, err
	}
	r.trace(passes[done-1].name(), began)
	began = time.Now()
	next := passes[done]
	next.points = append([]Pointwise{&joinOp{spread}}, next.points...)
	out := f
	if next.near == nil {
		err = fuseInto(ctx, next.points, f, f, n, 0, 0)
	} else { // neighbours are still needed
		out, err = next.Run(ctx, f, n, Region{})
	}
	r.trace(passes[done].name(), began)
	return done + 1, out, err
}

// startOn starts a pass over light that another left before its last step; nil where that cannot be.
func startOn(ctx context.Context, p pass, under *scatter.Spread) (*scatter.Spread, error) {
	op, ok := p.area.(Parting)
	if !ok {
		return nil, nil
	}
	return op.StartOn(ctx, under)
}

// spreads runs the spatial passes that can do so one over the other without putting pictures together between them, and keeps what each leaves
// before its last step. It returns how many passes that were, none if the first cannot part, the picture that they made, and its key.
func (r *Renderer) spreads(ctx context.Context, passes []pass, at *frame.Frame, key string, n int) (int, *frame.Frame, string, error) {
	run := 0
	var names []string
	for at := key; run < len(passes); run++ {
		if _, ok := passes[run].area.(Parting); !ok {
			break
		}
		at += "|" + passes[run].key(n)
		names = append(names, at)
	}
	if run == 0 {
		return 0, nil, "", nil
	}
	if f := r.get(names[run-1]); f != nil {
		return run, f, names[run-1], nil
	}
	var spread *scatter.Spread
	kept := false // spread is, for others too
	for done, name := range names {
		v, _ := r.kept.Get("before the last step of " + name)
		next, ok := v.(*scatter.Spread)
		if !ok {
			began := time.Now()
			var err error
			if spread == nil {
				next, err = passes[done].area.(Parting).Start(ctx, at)
			} else {
				next, err = startOn(ctx, passes[done], spread)
			}
			if err == nil {
				err = ctx.Err()
			}
			if err != nil {
				return 0, nil, "", err
			}
			if next == nil { // those so far are all that can
				f, err := r.whole(ctx, key, spread)
				return done, f, key, err
			}
			r.trace(passes[done].name(), began)
			if done+1 < run { // what comes after it may change alone
				r.put("before the last step of "+name, next)
			}
		}
		spread, key, kept = next, name, ok || done+1 < run // another plan may go on from what is the last of this one
	}
	f, err := r.whole(ctx, key, spread)
	if !kept && err == nil {
		spread.Drop()
	}
	return run, f, key, err
}

// whole is the picture that a key stands for, put together if it is not kept; nil for none.
func (r *Renderer) whole(ctx context.Context, key string, s *scatter.Spread) (*frame.Frame, error) {
	if s == nil {
		return nil, nil
	}
	if f := r.get(key); f != nil {
		return f, nil
	}
	f, err := s.Frame(ctx)
	if err == nil {
		r.put(key, f)
	}
	return f, err
}
