package main

import (
	"context"
	"fmt"
	"html"
	"io"
	"net/http"
	"net/url"
	"regexp"
	"slices"
	"time"

	"golang.org/x/sync/errgroup"
)

// weighStep reads the screens that find what stands out among 1,000 projects:
// each for the first time, when readings, statements and suppliers are read in,
// and then again and again.
func weighStep(ctx context.Context, dir string) (result, error) {
	o, b, err := opened(ctx, dir)
	if err != nil {
		return nil, err
	}
	defer o.Close()
	if _, _, err := b.get("/board"); err != nil {
		return nil, err
	}
	r := make(result)
	for _, x := range [...][2]string{
		{"exceptions", "/exceptions"},
		{"map", "/map"},
		{"drivers", "/drivers?by=lead"},
		{"forecast error over 24 periods", "/forecasts"},
		{"sheet with measures", "/project/" + code(7)},
	} {
		took, size, err := b.get(x[1])
		if err != nil {
			return nil, err
		}
		if r[x[0]+", first"] = ms(took); x[0] == "map" {
			r["map, compressed"] = float64(size) / 1024
		}
		if r[x[0]], err = b.median(x[1], 9); err != nil {
			return nil, fmt.Errorf("%s: %w", x[1], err)
		}
	}
	return r, nil
}

// twelve are the blocks of a page that shows a bit of everything.
const twelve = "12:sum 6:decide 6:moved 6:trust 12:exceptions 6:funding 6:due 12:roadmap 6:map 6:drivers 12:money 6:check"

// pageStep reads a page of twelve blocks as a browser does: the page, and then the screens that its
// blocks are of, each once, six at a time.
func pageStep(ctx context.Context, dir string) (result, error) {
	o, b, err := opened(ctx, dir)
	if err != nil {
		return nil, err
	}
	defer o.Close()
	r := make(result)
	var all []float64
	for range 6 {
		begun := time.Now()
		res, err := b.do(http.MethodGet, "/page?blocks="+url.QueryEscape(twelve), nil)
		if err != nil {
			return nil, err
		}
		read, err := io.ReadAll(res.Body)
		res.Body.Close()
		if err != nil {
			return nil, err
		}
		sum, body := ms(time.Since(begun)), string(read)
		asked := make(map[string]bool)
		for _, m := range asksFor.FindAllStringSubmatch(body, -1) {
			asked[html.UnescapeString(m[1])] = true
		}
		begun = time.Now()
		var group errgroup.Group
		group.SetLimit(6)
		for at := range asked {
			group.Go(func() error {
				res, err := b.do(http.MethodGet, at, nil)
				if err != nil {
					return err
				}
				defer res.Body.Close()
				_, err = io.Copy(io.Discard, res.Body)
				return err
			})
		}
		if err := group.Wait(); err != nil {
			return nil, err
		}
		sum += ms(time.Since(begun))
		all = append(all, sum)
	}
	slices.Sort(all[1:])
	r["page of 12 blocks, first"], r["page of 12 blocks"] = all[0], all[1+len(all[1:])/2]
	return r, nil
}

// asksFor is what a block asks for.
var asksFor = regexp.MustCompile(`data-screen="([^"]*)"`)
