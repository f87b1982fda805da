package main

import "context"

// explainStep reads the list of words that are wanted of 1,000 projects, and what those of one
// stand beside.
func explainStep(ctx context.Context, dir string) (result, error) {
	o, done, err := onCopy(ctx, dir)
	if err != nil {
		return nil, err
	}
	defer done()
	b, err := within(ctx, o)
	if err != nil {
		return nil, err
	}
	r := make(result)
	for name, path := range map[string]string{
		"words that are wanted": "/explain?at=" + lastPeriod, "what one text stands beside": "/explain/" + code(7) + "?at=" + lastPeriod,
	} {
		first, _, err := b.get(path)
		if err != nil {
			return nil, err
		}
		r[name+", first"] = ms(first)
		if r[name], err = b.median(path, 9); err != nil {
			return nil, err
		}
	}
	return r, nil
}
