package studio

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"image/jpeg"
	"os"
	"time"

	"codeberg.org/go-pdf/fpdf"
	"golang.org/x/image/font/gofont/goregular"

	"velours/core/colour"
	"velours/core/frame"
	"velours/core/render"
	"velours/library"
	"velours/media"
)

// sheetOf is a contact sheet of shots: a row for each, with a picture for every trial it can be under.
type sheetOf struct {
	title string
	rows  []sheetRow
}

type sheetRow struct {
	shot  *library.Shot
	cells []sheetCell
}

type sheetCell struct {
	side  Side
	words string
}

// mostSheetCells is how many pictures a contact sheet may have, and mostSheetPixels how many pixels one in one still, which is held
// whole: 12 bytes each.
const mostSheetCells, mostSheetPixels = 600, 24 << 20

// sheetCellWidth is how wide a picture of a sheet is.
const sheetCellWidth = 640

// sheetOf lays a sheet of shots out. A shot with trials has a picture under each of them; one without has those of its scene,
// or of its reel; where there are none at all it stands as it is.
func (s *Jobs) sheetOf(ids []uint) (*sheetOf, error) {
	out := &sheetOf{}
	count := 0
	for _, id := range ids {
		shot, err := s.lib.Shot(id)
		if err != nil {
			return nil, err
		}
		if shot.Encoding == "" {
			return nil, Bad("%s does not say how it was encoded; declare it in Intake first", shot.Name)
		}
		if out.title == "" {
			reel, err := s.lib.ReelAlone(shot.ReelID)
			if err != nil {
				return nil, err
			}
			out.title = reel.Name + ", " + time.Now().Format("2 January 2006")
		}
		trials, err := s.trialsOf(shot)
		if err != nil {
			return nil, err
		}
		row := sheetRow{shot: shot}
		for i := range trials {
			if t := &trials[i]; t.Of() == trials[0].Of() {
				row.cells = append(row.cells, sheetCell{Side{Of: ATrial, ID: t.ID}, shot.Name + " · " + trialWords(t)})
			}
		}
		if len(row.cells) == 0 {
			row.cells = []sheetCell{{Side{}, shot.Name}}
		}
		count += len(row.cells)
		out.rows = append(out.rows, row)
	}
	if count > mostSheetCells {
		return nil, Bad("that makes %d pictures; a contact sheet has up to %d: choose fewer shots", count, mostSheetCells)
	}
	return out, nil
}

// count is how many pictures the sheet has, columns how many the longest row.
func (s *sheetOf) count() (count, columns int) {
	for _, r := range s.rows {
		count += len(r.cells)
		columns = max(columns, len(r.cells))
	}
	return count, columns
}

// size is the place of a picture.
func (s *sheetOf) size() (w, h int) {
	for _, r := range s.rows {
		_, ph := fitSize(r.shot.Width, r.shot.Height, sheetCellWidth, 2*sheetCellWidth)
		h = max(h, ph)
	}
	return sheetCellWidth, h
}

// picture renders one picture of a sheet for an sRGB screen: where its shot was last looked at.
func (s *Jobs) picture(ctx context.Context, shot *library.Shot, side Side) (*frame.Frame, error) {
	p, err := s.sessions.Show(ctx, View{Shot: shot.ID, Frame: shot.Frame, Side: side, W: sheetCellWidth, H: 2 * sheetCellWidth})
	if err != nil {
		return nil, err
	}
	srgb, err := colour.FindDisplay("srgb")
	if err != nil {
		return nil, err
	}
	return onDisplay(ctx, p.Frame, render.Raster{W: p.W, H: p.H}, p.Display, srgb)
}

// makeSheet makes the file of a contact sheet.
func (s *Jobs) makeSheet(ctx context.Context, path string, f Format, sheet *sheetOf, progress func(done int)) error {
	if f.ext == ".pdf" {
		return s.sheetPDF(ctx, path, sheet, progress)
	}
	_, columns := sheet.count()
	w, h := sheet.size()
	page, err := newSheet(columns, len(sheet.rows), w, h, sheet.title)
	if err != nil {
		return err
	}
	done := 0
	for y, row := range sheet.rows {
		for x, cell := range row.cells {
			picture, err := s.picture(ctx, row.shot, cell.side)
			if err != nil {
				return err
			}
			page.put(x, y, picture, cell.words)
			done++
			progress(done)
		}
	}
	out, err := media.Create(path, 0, media.Options{Depth: 8, Colour: tagsOf["srgb"]})
	if err != nil {
		return wrapInput(err)
	}
	if err = out.Write(ctx, page.Frame); err == nil {
		err = out.Close()
	}
	if err != nil {
		out.Abort()
	}
	return err
}

// Pages are A4 lying, in millimetres.
const (
	pageWidth, pageHeight = 297.0, 210.0
	pageMargin, pageGap   = 10.0, 4.0
	pageLine              = 5.0 // of words
	// pageColumns is the fewest columns a page is laid out for: a lone picture does not fill it.
	pageColumns = 2
)

// sheetPDF makes pages: a row is never parted, and words are text.
func (s *Jobs) sheetPDF(ctx context.Context, path string, sheet *sheetOf, progress func(done int)) error {
	_, columns := sheet.count()
	columns = max(columns, pageColumns)
	w, h := sheet.size()
	cw := (pageWidth - 2*pageMargin - float64(columns-1)*pageGap) / float64(columns)
	ch := min(cw*float64(h)/float64(w), pageHeight-2*pageMargin-2*pageLine-pageGap)
	pdf := fpdf.New("L", "mm", "A4", "")
	pdf.SetCreator("Velours", true)
	pdf.SetTitle(sheet.title, true)
	pdf.SetAutoPageBreak(false, 0)
	pdf.AddUTF8FontFromBytes("go", "", goregular.TTF)
	y := pageHeight
	done, pages := 0, 0
	for _, row := range sheet.rows {
		if y+ch+pageLine > pageHeight-pageMargin {
			pages++
			pdf.AddPage()
			pdf.SetFillColor(23, 23, 23)
			pdf.Rect(0, 0, pageWidth, pageHeight, "F")
			pdf.SetTextColor(199, 199, 199)
			pdf.SetFont("go", "", 9)
			pdf.SetXY(pageMargin, pageMargin-2)
			pdf.CellFormat(pageWidth-2*pageMargin, pageLine, fmt.Sprintf("%s, page %d", sheet.title, pages), "", 0, "L", false, 0, "")
			y = pageMargin + pageLine
			pdf.SetFont("go", "", min(8, max(5, cw/12)))
		}
		for x, cell := range row.cells {
			picture, err := s.picture(ctx, row.shot, cell.side)
			if err != nil {
				return err
			}
			var data bytes.Buffer
			if err := jpeg.Encode(&data, &image.NRGBA{Pix: rgba(picture), Stride: 4 * picture.W, Rect: image.Rect(0, 0, picture.W, picture.H)}, &jpeg.Options{Quality: 93}); err != nil {
				return err
			}
			name := fmt.Sprint("picture ", done)
			pdf.RegisterImageOptionsReader(name, fpdf.ImageOptions{ImageType: "JPG"}, &data)
			k := min(cw/float64(picture.W), ch/float64(picture.H))
			pw, ph := k*float64(picture.W), k*float64(picture.H)
			left := pageMargin + float64(x)*(cw+pageGap)
			pdf.ImageOptions(name, left+(cw-pw)/2, y+(ch-ph)/2, pw, ph, false, fpdf.ImageOptions{ImageType: "JPG"}, 0, "")
			pdf.SetXY(left, y+ch)
			pdf.CellFormat(cw, pageLine, shortened(pdf, cell.words, cw), "", 0, "L", false, 0, "")
			done++
			progress(done)
		}
		y += ch + pageLine + pageGap
	}
	var data bytes.Buffer
	if err := pdf.Output(&data); err != nil {
		return fmt.Errorf("the pages of %s: %w", path, err)
	}
	part := path + partEnding
	if err := os.WriteFile(part, data.Bytes(), 0o644); err != nil {
		os.Remove(part)
		return Bad("%s cannot be written: %w", path, err)
	}
	return os.Rename(part, path)
}

// shortened cuts text off with dots where it is wider than that, in millimetres.
func shortened(pdf *fpdf.Fpdf, text string, width float64) string {
	letters := []rune(text)
	for pdf.GetStringWidth(text) > width-1 && len(letters) > 1 {
		letters = letters[:len(letters)-1]
		text = string(letters) + "…"
	}
	return text
}
